<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Exception as DatabaseTrouble;
use Doctrine\DBAL\Tools\DsnParser;
use Velvet\Core\Ledger\LedgerLine;

/**
 * Does to real intakes what must not cost a frame, at random moments, lets each go on to its end, and compares the
 * trees with the card. Needs the instance's database; the card, the shelf and the twin of each trial are its own.
 */
final class Trials
{
    private const FRAMES = 6;
    /** Bytes that the plan wants to stay free on a drive. */
    private const RESERVE = 70_000_000;
    private const PATIENCE = 60.0; // seconds until an intake must be over

    private readonly Connection $database;
    private int $made = 0;
    /** @var array<string, float> seconds that an intake takes when nothing is done to it, by its kind */
    private array $copies = [];

    public function __construct(
        private readonly string $folder,
        private readonly \Random\Randomizer $random,
        string $databaseUrl,
    ) {
        $this->database = DriverManager::getConnection(
            (new DsnParser(['postgresql' => 'pdo_pgsql']))->parse($databaseUrl),
        );
    }

    /** Workers are killed (SIGKILL) until `$kills` were; one or two are at each intake. */
    public function killed(int $kills, TrialKind $kind = TrialKind::Copies): TrialSum
    {
        $sum = new TrialSum($kind->value);
        while ($sum->faults < $kills) {
            $place = $this->place($kind);
            $workers = [ConsoleProcess::intake($place)];
            $isRace = 0 === $this->random->getInt(0, 2);
            for ($n = $this->random->getInt(1, 4); $n > 0; --$n) {
                $this->awaitCopy($place, $workers);
                if ($isRace) {
                    $workers[1] ??= ConsoleProcess::intake($place);
                }
                $this->waitWithin($this->copySeconds($kind) * 0.8);
                $at = $this->random->getInt(0, \count($workers) - 1);
                if (!$workers[$at]->runs()) {
                    break; // it was quicker
                }
                $workers[$at]->kill();
                $sum->fault($this->moment($place));
                $workers[$at] = ConsoleProcess::intake($place);
            }
            $sum->trial($this->finished($place, $workers));
        }

        return $sum;
    }

    /** Two workers at one intake, nothing else. */
    public function racing(int $trials): TrialSum
    {
        $sum = new TrialSum('two workers racing');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $workers = [ConsoleProcess::intake($place)];
            $this->awaitCopy($place, $workers);
            $workers[] = ConsoleProcess::intake($place);
            $sum->trial($this->finished($place, $workers));
        }

        return $sum;
    }

    /** The database itself is killed; the supervisor starts it again. */
    public function databaseKilled(int $trials): TrialSum
    {
        $sum = new TrialSum('database killed');
        $data = $this->database->fetchOne('SHOW data_directory');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $workers = [ConsoleProcess::intake($place)];
            $this->awaitCopy($place, $workers);
            $this->waitWithin($this->copySeconds());
            $pid = (int) strtok((string) @file_get_contents((\is_string($data) ? $data : '').'/postmaster.pid'), "\n");
            if ($pid < 2 || !posix_kill($pid, \SIGKILL)) {
                throw new \RuntimeException('The database could not be killed.');
            }
            $this->database->close();
            $this->awaitDatabase();
            $sum->fault($this->moment($place));
            $sum->trial($this->finished($place, $workers));
        }

        return $sum;
    }

    /** The twin is a drive with too little room; later it has enough. Needs the right to mount. */
    public function diskFull(int $trials): TrialSum
    {
        $sum = new TrialSum('twin full');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            // enough for the plan's look at the room, filled up by somebody else before the copy is over
            self::run(['mount', '-t', 'tmpfs', '-o', 'size='.($place->bytes() + self::RESERVE), 'tmpfs', $place->twin]);
            try {
                $worker = ConsoleProcess::intake($place);
                $this->awaitCopy($place, [$worker]);
                $ballast = $this->random->getInt(self::RESERVE, self::RESERVE + $place->bytes());
                @file_put_contents($place->twin.'/.ballast', str_repeat("\0", $ballast));
                if (0 !== $worker->wait()) {
                    $sum->fault($this->moment($place));
                }
                unlink($place->twin.'/.ballast');
                $losses = $place->halfFiles();
                $sum->trial([...$losses, ...$this->finished($place, [ConsoleProcess::intake($place)], false)]);
            } finally {
                self::run(['umount', '-l', $place->twin]);
                $place->remove();
            }
        }

        return $sum;
    }

    /** The twin's drive goes away, and comes back. Needs the right to mount. */
    public function twinGone(int $trials): TrialSum
    {
        $sum = new TrialSum('twin gone');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $drive = $place->twin.'-drive';
            mkdir($drive);
            self::run(['mount', '-t', 'tmpfs', 'tmpfs', $drive]);
            self::run(['mount', '--bind', $drive, $place->twin]);
            try {
                $worker = ConsoleProcess::intake($place);
                $this->awaitCopy($place, [$worker]);
                $this->waitWithin($this->copySeconds());
                self::run(['umount', '-l', $place->twin]);
                $worker->wait();
                $sum->fault($this->moment($place));
                $losses = \count((array) scandir($place->twin)) > 2 ? ['written where the drive had been'] : [];
                self::run(['mount', '--bind', $drive, $place->twin]);
                $sum->trial(
                    [
                        ...$losses,
                        ...$place->halfFiles(),
                        ...$this->finished($place, [ConsoleProcess::intake($place)], false),
                    ],
                );
            } finally {
                self::run(['umount', '-l', $place->twin]);
                self::run(['umount', '-l', $drive]);
                $place->remove();
            }
        }

        return $sum;
    }

    /** Reading a file of the card fails now and then with an I/O error, by strace's fault injection. */
    public function unreadable(int $trials): TrialSum
    {
        $sum = new TrialSum('read errors on the card');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $file = array_keys($place->content)[$this->random->getInt(0, self::FRAMES - 1)];
            $worker = ConsoleProcess::intake(
                $place,
                [
                    'strace',
                    '-f',
                    '-qq',
                    '-o',
                    '/dev/null',
                    '-P',
                    $file,
                    '-e',
                    'trace=read,pread64',
                    '-e',
                    'inject=read,pread64:error=EIO:when='.$this->random->getInt(1, 12).'+1',
                ],
            );
            if (0 !== $worker->wait()) {
                $sum->fault($this->moment($place));
            }
            $sum->trial([...$place->halfFiles(), ...$this->finished($place, [ConsoleProcess::intake($place)])]);
        }

        return $sum;
    }

    /** A file of the card is cut short while it is taken in, and is whole again later. */
    public function sourceChanges(int $trials): TrialSum
    {
        $sum = new TrialSum('a file that is cut short meanwhile');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $file = array_keys($place->content)[$this->random->getInt(0, self::FRAMES - 1)];
            [$whole, $time] = [(string) file_get_contents($file), (int) filemtime($file)];
            $worker = ConsoleProcess::intake($place);
            $this->awaitCopy($place, [$worker]);
            $this->waitWithin($this->copySeconds());
            file_put_contents($file, substr($whole, 0, $this->random->getInt(0, \strlen($whole) - 1)));
            if (0 !== $worker->wait()) {
                $sum->fault($this->moment($place));
            }
            file_put_contents($file, $whole);
            touch($file, $time);
            $sum->trial([...$place->halfFiles(), ...$this->finished($place, [ConsoleProcess::intake($place)])]);
        }

        return $sum;
    }

    /** @return list<string> what is wrong with the ledger after all of this */
    public function ledger(): array
    {
        $before = LedgerLine::FIRST_SEAL;
        foreach ($this->database->iterateAssociative('SELECT id, at, event, details, before, seal FROM ledger_line
            ORDER BY id') as $row) {
            \assert(
                \is_string($row['at'])
                    && \is_string($row['event'])
                    && \is_string($row['details'])
                    && \is_string($row['seal']),
            );
            if (
                $row['before'] !== $before
                || LedgerLine::sealed($before, $row['at'], $row['event'], $row['details'])->seal !== $row['seal']
            ) {
                return ['the ledger\'s chain breaks at line '.(\is_int($row['id']) ? $row['id'] : '')];
            }
            $before = $row['seal'];
        }

        return [];
    }

    private function place(TrialKind $kind = TrialKind::Copies): TrialPlace
    {
        return new TrialPlace($this->folder.'/'.++$this->made, self::FRAMES, $this->random, $kind);
    }

    /**
     * Lets an intake go on until it is over; a worker that ended with something undone is started again.
     *
     * @param array<int, ConsoleProcess> $workers
     *
     * @return list<string>
     */
    private function finished(TrialPlace $place, array $workers, bool $remove = true): array
    {
        $since = microtime(true);
        $failed = [];
        foreach ($workers as $worker) {
            while (0 !== $worker->wait()) {
                if (microtime(true) - $since > self::PATIENCE) {
                    $failed[] = 'the intake does not come to its end';
                    break;
                }
                $this->awaitDatabase();
                $worker = ConsoleProcess::intake($place);
            }
        }
        $filed = $this->database->fetchOne(
            "SELECT count(*) FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE s.root = ?
                AND 2 = (SELECT count(DISTINCT p.root) FROM filed_copy c JOIN place p ON p.id = c.place_id
                WHERE c.file_id = f.id AND c.state = 'whole' AND c.digest = coalesce(f.digest_now, f.digest))",
            [$place->shelf],
        );
        $losses = [
            ...$failed,
            ...$place->losses(),
            ...(\count($place->content) === $filed ? [] : ['not all of it is in the ledger']),
        ];
        if ([] !== $losses) {
            $losses[] = 'the ledger has '.json_encode($this->database->fetchAllAssociative(
                'SELECT f.id, f.intake_id, f.path, f.original_path, f.made_from, f.dng_state, f.metadata_state,
                    (SELECT jsonb_agg(ARRAY[p.root, p.drive, c.state])
                        FROM filed_copy c JOIN place p ON p.id = c.place_id WHERE c.file_id = f.id) AS copies
                FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE s.root = ? ORDER BY f.id',
                [$place->shelf],
            ), \JSON_THROW_ON_ERROR);
        }
        if ($remove && [] === $losses) {
            $place->remove();
        }

        return array_map(static fn (string $loss): string => $place->card.': '.$loss, $losses);
    }

    /** @param array<int, ConsoleProcess> $workers */
    private function awaitCopy(TrialPlace $place, array $workers): void
    {
        while (
            !$this->isCopying($place)
            && [] !== array_filter($workers, static fn (ConsoleProcess $worker): bool => $worker->runs())
        ) {
            usleep(1000);
        }
    }

    private function isCopying(TrialPlace $place): bool
    {
        return false !== $this->database->fetchOne(
            "SELECT 1 FROM intake i JOIN shelf s ON s.id = i.shelf_id WHERE s.root = ? AND i.state = 'running'",
            [$place->shelf],
        );
    }

    /** What was being done when the fault came. */
    private function moment(TrialPlace $place): string
    {
        $moment = 'before or between files';
        $writing = $this->database->fetchOne(
            "SELECT 1 FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE s.root = ?
                AND f.metadata_state = 'waiting' AND f.metadata_digest IS NOT NULL",
            [$place->shelf],
        );
        if (false !== $writing) {
            return 'while metadata takes its place';
        }
        $converting = $this->database->fetchOne(
            "SELECT max(f.dng_state) FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE s.root = ?
                AND f.dng_state IN ('waiting', 'leaving')",
            [$place->shelf],
        );
        if (\is_string($converting)) {
            return 'leaving' === $converting ? 'while a raw file leaves' : 'while a raw file is converted';
        }
        foreach ($this->database->fetchAllAssociative("SELECT t.state, t.target FROM transfer t
            JOIN intake i ON i.id = t.intake_id JOIN shelf s ON s.id = i.shelf_id WHERE s.root = ?
            AND t.state IN ('copying', 'verifying', 'failed')", [$place->shelf]) as $row) {
            \assert(\is_string($row['target']) && \is_string($row['state']));
            $isNamed = file_exists($place->shelf.'/'.$row['target']) || file_exists($place->twin.'/'.$row['target']);
            $moment = 'verifying' === $row['state'] && $isNamed ? 'naming or writing the ledger' : $row['state'];
        }

        return $moment;
    }

    private function copySeconds(TrialKind $kind = TrialKind::Copies): float
    {
        if (!isset($this->copies[$kind->name])) {
            $place = $this->place($kind);
            $worker = ConsoleProcess::intake($place);
            $this->awaitCopy($place, [$worker]);
            $since = microtime(true);
            while ($this->isCopying($place)) {
                usleep(1000);
            }
            $this->copies[$kind->name] = microtime(true) - $since;
            $worker->wait();
            $place->remove();
        }

        return $this->copies[$kind->name];
    }

    private function awaitDatabase(): void
    {
        for ($i = 0; $i < 600; ++$i) {
            try {
                $this->database->fetchOne('SELECT 1');

                return;
            } catch (DatabaseTrouble) {
                $this->database->close();
                usleep(100_000);
            }
        }
        throw new \RuntimeException('The database does not come back.');
    }

    private function waitWithin(float $seconds): void
    {
        usleep($this->random->getInt(0, (int) ($seconds * 1e6)));
    }

    /** @param list<string> $command */
    private static function run(array $command): void
    {
        exec(implode(' ', array_map(escapeshellarg(...), $command)).' 2>&1', $output, $status);
        if (0 !== $status) {
            throw new \RuntimeException(implode(' ', $command).': '.implode(' ', $output));
        }
    }
}
