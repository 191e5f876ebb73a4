<?php

declare(strict_types=1);

namespace Velvet\Server\Tests\Promise;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Tests\Jpeg;
use Velvet\Server\Tests\TestDrives;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\CardNow;
use Velvet\Server\Work\Cards\KnownCards;
use Velvet\Server\Work\Cards\LettingGo;
use Velvet\Server\Work\Cards\WordRefused;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Intakes\IntakeRefused;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Ledger\NothingFiled;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/**
 * A photographer's desk in small: two cards of one label and one bay, a shelf, drives that come and go, and all that
 * may happen to them. What is done with the program goes through its own classes.
 */
final class World
{
    private const TIME = 1_777_716_000;
    /** Longer than the clock tick by which a file system dates a change (Linux, 4 ms at most; from memory). */
    private const TICK = 5_000;

    /** @var list<string> what happened so far */
    public array $told = [];

    private readonly \Random\Randomizer $random;
    private readonly Oracle $oracle;
    /** Which card is in the bay, `A` or `B`. */
    private ?string $in = null;
    private int $shots = 0;
    private int $drives = 0;

    /**
     * @param \Closure(class-string): object $get     a service of the program
     * @param \Closure(): void               $restart ends the program and starts it again
     */
    public function __construct(
        private readonly string $folder,
        private readonly int $seed,
        private readonly \Closure $get,
        private readonly \Closure $restart,
    ) {
        $this->random = new \Random\Randomizer(new \Random\Engine\Mt19937($seed));
        foreach (['bay', 'table', 'shelf', 'twin'] as $name) {
            mkdir($folder.'/'.$name);
        }
        $this->oracle = new Oracle($folder);
        foreach (['A', 'B'] as $card) {
            for ($n = $this->random->getInt(1, 3); $n > 0; --$n) {
                $this->shootOn($folder.'/table/'.$card);
            }
        }
        $this->service(Shelves::class)->at($folder.'/shelf', $folder.'/twin', []);
        $this->putIn();
        $this->copy();
    }

    /** Something happens. @return string what it was */
    public function move(): string
    {
        usleep(self::TICK);
        $moves = [
            'putIn', 'takeOut', 'exchange', 'shootMore', 'overwrite', 'overwriteUnseen', 'hide', 'rename', 'odd',
            'housekeeping', 'copy', 'copyKilled', 'leaveOutAndCopy', 'letGo', 'oneDriveIsEnough', 'allIsWell',
            'allIsWell', 'allIsWell', 'allIsWell', 'allIsWell', 'allIsWell', 'allIsWell', 'allIsWell',
            'pullTwin', 'plugTwin', 'swapTwin', 'deleteCopy', 'changeCopy', 'changeCopyUnseen', 'touchCopy', 'linkCopy',
            'secondTwin', 'noTwin', 'twinAgain', 'twinOnShelfsDrive', 'restart', 'look', 'verify', 'goOn',
        ];
        $move = $moves[$this->random->getInt(0, \count($moves) - 1)];
        $this->told[] = $move;
        match ($move) {
            'putIn' => $this->putIn(), 'takeOut' => $this->takeOut(), 'exchange' => $this->exchange(),
            'shootMore' => $this->shootMore(), 'overwrite' => $this->overwrite(false),
            'overwriteUnseen' => $this->overwrite(true),
            'hide' => $this->hide(), 'rename' => $this->renameOnCard(), 'odd' => $this->odd(),
            'housekeeping' => $this->housekeeping(), 'copy' => $this->copy(), 'copyKilled' => $this->copy(killed: true),
            'leaveOutAndCopy' => $this->copy(leavesOut: true), 'letGo' => $this->letGo(),
            'oneDriveIsEnough' => $this->oneDriveIsEnough(), 'pullTwin' => $this->pullTwin(),
            'plugTwin' => $this->plugTwin(), 'swapTwin' => $this->swapTwin(),
            'deleteCopy' => $this->toCopy(
                static fn (string $path): bool => unlink($path),
            ), 'changeCopy' => $this->toCopy(
                static fn (string $path): mixed => file_put_contents($path, 'other'),
            ),
            'changeCopyUnseen' => $this->toCopy($this->noise(...)), 'touchCopy' => $this->toCopy(
                static fn (string $path): bool => touch($path),
            ), 'linkCopy' => $this->linkCopy(), 'secondTwin' => $this->twinIs('twin2'),
            'noTwin' => $this->twinIs(null), 'twinAgain' => $this->twinIs('twin'),
            'twinOnShelfsDrive' => $this->twinOnShelfsDrive(), 'restart' => $this->restarted(), 'look' => $this->look(),
            'verify' => $this->verify(), 'goOn' => $this->goOn(), 'allIsWell' => $this->allIsWell(),
        };

        return $move;
    }

    /**
     * @return list<array{bool, string}> whether the program says that the card in the bay is cleared, as a page asks
     * and as a command does; and what the oracle has against it
     */
    public function answers(): array
    {
        $card = $this->card();
        if (null === $card) {
            return [];
        }
        $readAgain = 0 === $this->random->getInt(0, 2);
        $clearance = $this->service(CardClearance::class)->of($card, $readAgain);

        return [[$clearance->cleared, $clearance->cleared ? $this->oracle->against($this->in, $this->theShelf()) : '']];
    }

    private function putIn(): void
    {
        if (null === $this->in) {
            $this->in = 0 === $this->random->getInt(0, 1) ? 'A' : 'B';
            rename($this->folder.'/table/'.$this->in, $this->folder.'/bay/CARD');
            $this->look();
        }
    }

    private function takeOut(): void
    {
        if (null !== $this->in) {
            rename($this->folder.'/bay/CARD', $this->folder.'/table/'.$this->in);
            $this->in = null;
            if (0 === $this->random->getInt(0, 1)) {
                $this->look();
            }
        }
    }

    /** One card for the other, quicker than anybody looks. */
    private function exchange(): void
    {
        if (null !== $this->in) {
            rename($this->folder.'/bay/CARD', $this->folder.'/table/'.$this->in);
            $this->in = 'A' === $this->in ? 'B' : 'A';
            rename($this->folder.'/table/'.$this->in, $this->folder.'/bay/CARD');
        }
    }

    private function shootMore(): void
    {
        $this->shootOn(null === $this->in ? $this->folder.'/table/A' : $this->folder.'/bay/CARD');
    }

    private function shootOn(string $card): void
    {
        // both cards count from the same number on, as two bodies of one kind do
        $n = \count((array) glob($card.'/DCIM/100/T*')) + 1;
        $path = \sprintf('%s/DCIM/100/T%04d.JPG', $card, $n);
        if (!is_dir(\dirname($path))) {
            mkdir(\dirname($path), recursive: true);
        }
        if (!file_exists($path)) {
            file_put_contents(
                $path,
                Jpeg::of($this->seed.' shot '.++$this->shots, \sprintf('2026:05:02 19:31:%02d', $n % 60)),
            );
            touch($path, self::TIME + 2 * $n);
        }
    }

    private function overwrite(bool $unseen): void
    {
        $path = $this->someOnCard();
        if (null !== $path) {
            $unseen
                ? $this->noise($path)
                : file_put_contents($path, Jpeg::of($this->seed.' shot '.++$this->shots, '2026:05:02 20:00:00'));
        }
    }

    /** Other bytes of equal size, with the time set back. */
    private function noise(string $path): void
    {
        $time = (int) filemtime($path);
        file_put_contents($path, $this->random->getBytes(max(1, (int) filesize($path))));
        touch($path, $time);
        clearstatcache();
    }

    private function hide(): void
    {
        $path = $this->someOnCard();
        if (null !== $path) {
            rename($path, \dirname($path).'/.'.basename($path));
        }
    }

    private function renameOnCard(): void
    {
        $path = $this->someOnCard();
        if (null !== $path && !file_exists(\dirname($path).'/X'.basename($path))) {
            rename($path, \dirname($path).'/X'.basename($path));
        }
    }

    private function odd(): void
    {
        $names = [
            'A.CRM', 'A.BRAW', 'A.MPG', 'A.JP2', 'DCIM/100/NOEXTENSION', 'DCIM/100/T0001.JPG ', '.hidden.jpg',
            'Misc/IMG_0002.JPG', 'LOST.DIR/1', 'MISC/OTHER.MRK', '.Trashes/1.jpg',
        ];
        $this->onCard($names[$this->random->getInt(0, \count($names) - 1)], $this->seed.' odd '.++$this->shots);
    }

    private function housekeeping(): void
    {
        $isPicture = 0 === $this->random->getInt(0, 3);
        $this->onCard(
            0 === $this->random->getInt(0, 1) ? 'MISC/AUTPRINT.MRK' : '.DS_Store',
            $isPicture ? Jpeg::of($this->seed.' hidden '.++$this->shots, '2026:05:02 20:00:00') : '[HDR]',
        );
    }

    private function copy(bool $killed = false, bool $leavesOut = false): void
    {
        $card = $this->card();
        if (null === $card) {
            return;
        }
        $this->read($card);
        if (CardState::Read !== $card->state) {
            return;
        }
        try {
            $intake = $this->service(Sheets::class)->open([$card]);
            $this->service(SheetEdits::class)->shelve($intake, $this->theShelf());
            if ($leavesOut) {
                $frames = $this->service(Connection::class)->fetchFirstColumn(
                    "SELECT id FROM card_frame WHERE card_id = ? AND state = 'new' ORDER BY id",
                    [$card->id()],
                );
                $this->service(SheetEdits::class)->leaveOut(
                    $intake,
                    array_values(array_filter(\array_slice($frames, 0, 1), is_int(...))),
                    true,
                );
            }
            $this->service(Intakes::class)->settle($intake, false);
            $this->run($intake->id(), $killed);
        } catch (SheetRefused) {
            // it says why, and nothing was done
        }
        $this->service(EntityManagerInterface::class)->clear();
    }

    private function run(int $intake, bool $killed): void
    {
        $left = $killed ? $this->random->getInt(0, 2) : \PHP_INT_MAX;
        try {
            $onFile = static function () use (&$left): void {
                if (0 === $left--) {
                    throw new Killed();
                }
            };
            $this->service(IntakeRun::class)->run($intake, OnFailure::PauseForDrives, $onFile);
        } catch (Killed) {
            $this->restarted();
        }
    }

    /** What waits for a drive or a card, or was broken off, is taken up again. */
    private function goOn(): void
    {
        $this->service(Halts::class)->over();
        foreach ($this->service(
            EntityManagerInterface::class,
        )->getRepository(Intake::class)->findBy([
            'shelf' => $this->theShelf(),
            'state' => [IntakeState::Waiting, IntakeState::Running, IntakeState::Paused],
        ]) as $intake) {
            try {
                if (IntakeState::Paused === $intake->state && 0 === $this->random->getInt(0, 1)) {
                    $this->service(Intakes::class)->stop($intake);
                } elseif (IntakeState::Paused === $intake->state) {
                    $this->service(Intakes::class)->resume($intake);
                }
            } catch (IntakeRefused) {
                continue;
            }
            $this->run($intake->id(), false);
        }
        $this->service(EntityManagerInterface::class)->clear();
    }

    private function letGo(): void
    {
        $card = $this->card();
        if (null !== $card && null !== $this->in) {
            $paths = $this->service(Connection::class)->fetchFirstColumn(
                "SELECT c.path FROM card_file c JOIN card_frame f ON f.id = c.frame_id WHERE f.card_id = ?
                    AND f.left_out AND f.state = 'new'",
                [$card->id()],
            );
            try {
                $this->service(LettingGo::class)->leftOut($card);
                foreach (array_filter($paths, is_string(...)) as $path) {
                    $this->oracle->letGo($this->folder.'/bay/CARD/'.$path);
                }
            } catch (WordRefused) {
            }
        }
    }

    private function oneDriveIsEnough(): void
    {
        $card = $this->card();
        if (null !== $card && null !== $this->in) {
            try {
                $this->service(LettingGo::class)->oneDriveIsEnough($card);
                $this->oracle->oneDriveIsEnough($this->in);
            } catch (WordRefused) {
            }
        }
    }

    private function pullTwin(): void
    {
        if (is_dir($this->folder.'/twin') && !is_link($this->folder.'/twin')) {
            rename($this->folder.'/twin', $this->folder.'/pulled-'.++$this->drives);
            mkdir($this->folder.'/twin'); // the folder that it was mounted on
            TestDrives::$as[$this->folder.'/twin'] = 'the computer’s own';
        }
    }

    private function plugTwin(): void
    {
        $pulled = glob($this->folder.'/pulled-*');
        if (
            \is_array($pulled)
            && [] !== $pulled
            && !is_link($this->folder.'/twin')
            && [] === array_diff((array) @scandir($this->folder.'/twin'), ['.', '..'])
        ) {
            rmdir($this->folder.'/twin');
            $drive = $pulled[$this->random->getInt(0, \count($pulled) - 1)];
            rename($drive, $this->folder.'/twin');
            TestDrives::$as[$this->folder.'/twin'] = 'drive '.basename($drive);
            if ('pulled-1' === basename($drive)) {
                unset(TestDrives::$as[$this->folder.'/twin']);
            }
        }
    }

    /** Another drive comes to its mount point, with a tree of its own: an old state of the twin. */
    private function swapTwin(): void
    {
        if (is_dir($this->folder.'/twin') && !is_link($this->folder.'/twin')) {
            exec(
                'cp -a '.escapeshellarg($this->folder.'/twin').' '.escapeshellarg(
                    $this->folder.'/old-'.++$this->drives,
                ),
            );
            $this->pullTwin();
            rmdir($this->folder.'/twin');
            rename($this->folder.'/old-'.($this->drives - 1), $this->folder.'/twin');
            TestDrives::$as[$this->folder.'/twin'] = 'swapped '.$this->drives;
        }
    }

    private function linkCopy(): void
    {
        $shelf = $this->files($this->folder.'/shelf');
        if ([] !== $shelf) {
            $path = $shelf[$this->random->getInt(0, \count($shelf) - 1)];
            $twin = $this->folder.'/twin'.substr($path, \strlen($this->folder.'/shelf'));
            if (is_file($twin)) {
                unlink($twin);
                0 === $this->random->getInt(0, 1) ? link($path, $twin) : symlink($path, $twin);
            }
        }
    }

    private function twinIs(?string $name): void
    {
        $twin = null === $name ? null : $this->folder.'/'.$name;
        if (null !== $twin && !file_exists($twin)) {
            mkdir($twin);
        }
        try {
            $this->service(Shelves::class)->change($this->theShelf(), '', $twin);
        } catch (SheetRefused) {
            // its drive is not there
        }
    }

    private function twinOnShelfsDrive(): void
    {
        $before = TestDrives::$as;
        foreach (['shelf', 'twin'] as $place) {
            TestDrives::$as[$this->folder.'/'.$place] = 'both on this';
        }
        try {
            $this->service(Shelves::class)->change($this->theShelf(), '', $this->folder.'/twin');
        } catch (SheetRefused) {
            TestDrives::$as = $before;
        }
    }

    /**
     * A person puts everything right: the twin is connected, odd files are taken off the card, and what is new is
     * copied.
     */
    private function allIsWell(): void
    {
        $this->plugTwin();
        $this->twinIs('twin');
        $this->putIn();
        foreach (0 === $this->random->getInt(0, 3) ? [] : $this->files($this->folder.'/bay/CARD') as $path) {
            if (1 !== preg_match('~/DCIM/100/X?T\d+\.JPG$|/MISC/AUTPRINT\.MRK$~', $path)) {
                unlink($path);
            }
        }
        $this->look();
        $this->goOn();
        $this->copy();
    }

    private function restarted(): void
    {
        ($this->restart)();
        $this->service(Connection::class)->executeStatement('SET synchronous_commit = off');
    }

    /** What the watcher does twice a second: it notices, and what it notices is read. */
    private function look(): void
    {
        (new Bays(
            $this->service(EntityManagerInterface::class),
            $this->service(MessageBusInterface::class),
            $this->service(Happenings::class),
            $this->service(ClockInterface::class),
            $this->service(CardNow::class),
            $this->service(KnownCards::class),
            $this->folder.'/bay',
        ))->look();
        $card = $this->card();
        if (
            null !== $card
            && $card->present
            && CardState::Waiting === $card->state
            && 0 !== $this->random->getInt(0, 4)
        ) {
            $this->read($card);
        }
    }

    private function read(Card $card): void
    {
        $card->present = is_dir($card->root);
        $this->service(CardReading::class)->read($card);
    }

    private function verify(): void
    {
        try {
            $this->service(LedgerCheck::class)->of($this->folder.'/shelf', static function (): void {});
        } catch (NothingFiled) {
        }
    }

    /** @param \Closure(string): mixed $do */
    private function toCopy(\Closure $do): void
    {
        $files = [...$this->files($this->folder.'/shelf'), ...$this->files($this->folder.'/twin')];
        if ([] !== $files) {
            $do($files[$this->random->getInt(0, \count($files) - 1)]);
            clearstatcache();
        }
    }

    private function onCard(string $path, string $content): void
    {
        if (null !== $this->in) {
            $path = $this->folder.'/bay/CARD/'.$path;
            if (!is_dir(\dirname($path))) {
                mkdir(\dirname($path), recursive: true);
            }
            file_put_contents($path, $content);
        }
    }

    private function someOnCard(): ?string
    {
        $files = null === $this->in ? [] : $this->files($this->folder.'/bay/CARD');

        return [] === $files ? null : $files[$this->random->getInt(0, \count($files) - 1)];
    }

    /** @return list<string> */
    private function files(string $root): array
    {
        return Oracle::files($root);
    }

    private function card(): ?Card
    {
        $this->service(EntityManagerInterface::class)->clear();

        return $this->service(EntityManagerInterface::class)->getRepository(Card::class)->findOneBy(
            ['root' => $this->folder.'/bay/CARD'],
        );
    }

    private function theShelf(): Shelf
    {
        return $this->service(EntityManagerInterface::class)->getRepository(Shelf::class)->findOneBy(
            ['root' => $this->folder.'/shelf'],
        ) ?? throw new \LogicException('There is no shelf.');
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return T
     */
    private function service(string $class): object
    {
        $service = ($this->get)($class);
        \assert($service instanceof $class);

        return $service;
    }
}
