<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

/**
 * Takes cards in, does to cards, drives and copies what makes the word “cleared” untrue, and asks for it: each time it
 * is said is a false word, and counts as a loss. The twin lies on another drive (memory), so that the word can be true
 * before.
 */
final class WordTrials
{
    private const FRAMES = 5;
    private const PATIENCE = 60.0; // seconds until an intake must be over

    private int $made = 0;

    public function __construct(private readonly string $folder, private readonly \Random\Randomizer $random)
    {
    }

    /**
     * Copies or whole places are deleted, emptied, linked, cut short or filled with noise after the card was taken in.
     */
    public function placesGone(int $trials): TrialSum
    {
        $sum = new TrialSum('a place that is gone, or other than it was');
        $faults = [
            'the twin’s folder deleted' => static fn (TrialPlace $place): bool => self::run(['rm', '-r', $place->twin]),
            'the twin empty' => static fn (TrialPlace $place): mixed => self::run(
                ['find', $place->twin, '-mindepth', '1', '-delete'],
            ),
            'the twin a link to the shelf' => static fn (TrialPlace $place): bool => self::run(
                ['rm', '-r', $place->twin],
            ) && symlink($place->shelf, $place->twin),
            'the year a link to the shelf’s' => static fn (TrialPlace $place): bool => self::run(
                ['rm', '-r', $place->twin.'/2026'],
            ) && symlink(
                $place->shelf.'/2026',
                $place->twin.'/2026',
            ),
            'a copy deleted' => fn (TrialPlace $place): bool => unlink($this->copyIn($place)),
            'a copy cut short' => fn (TrialPlace $place): mixed => file_put_contents(
                $this->copyIn($place),
                'cut short',
            ),
            'a copy of noise, its time set back' => fn (TrialPlace $place): bool => self::noise($this->copyIn($place)),
        ];
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $losses = $this->takenIn($place);
            $fault = array_keys($faults)[$n % \count($faults)];
            $faults[$fault]($place);
            $sum->fault($fault);
            $sum->trial([...$losses, ...$this->mustNotBeCleared($place, $fault)]);
            $place->remove();
        }

        return $sum;
    }

    /** The card is shot more with, changed or exchanged after it was taken in. */
    public function cardsChanged(int $trials): TrialSum
    {
        $sum = new TrialSum('a card that changed since');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $losses = $this->takenIn($place);
            $file = array_keys($place->content)[$this->random->getInt(0, self::FRAMES - 1)];
            $fault = [
                'a frame more',
                'a frame of noise, its time set back',
                'an unknown kind',
                'a hidden frame',
                'another card of its name',
            ][$n % 5];
            match ($n % 5) {
                0 => file_put_contents(\dirname($file).'/T9999.JPG', file_get_contents($file).'more'),
                1 => self::noise($file),
                2 => file_put_contents($place->card.'/A001.CRM', random_bytes(1000)),
                3 => file_put_contents(\dirname($file).'/.'.basename($file), file_get_contents($file).'hidden'),
                default => $this->exchanged($place),
            };
            $sum->fault($fault);
            $sum->trial([...$losses, ...$this->mustNotBeCleared($place, $fault)]);
            $place->remove();
        }

        return $sum;
    }

    /**
     * The worker is killed, and another card of the same label, names, sizes and times is in when the intake is begun
     * again.
     */
    public function cardsSwapped(int $trials): TrialSum
    {
        $sum = new TrialSum('a card swapped while the intake was halted');
        for ($n = 0; $n < $trials;) {
            $place = $this->place();
            $worker = ConsoleProcess::intake($place);
            $this->awaitPart($place, $worker);
            $worker->kill();
            if (self::isCleared($place)) { // it was done before: another card is another intake's
                $place->remove();
                continue;
            }
            ++$n;
            $sum->fault('killed, then exchanged');
            $own = $this->exchanged($place);
            $losses = 0 === ConsoleProcess::intake($place)->wait()
                ? ['another card was taken in under the same receipt']
                : [];
            array_push($losses, ...$place->halfFiles(), ...$this->mustNotBeCleared($place, 'another card is in'));
            self::run(['rm', '-r', $place->card]);
            rename($own, $place->card);
            $sum->trial([...$losses, ...$this->takenIn($place)]);
            $place->remove();
        }

        return $sum;
    }

    /** A file of the card is rewritten in place, with the same size and time, while it is read. */
    public function rewritten(int $trials): TrialSum
    {
        $sum = new TrialSum('a file rewritten in place while it is read');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $file = array_keys($place->content)[$this->random->getInt(0, self::FRAMES - 1)];
            $worker = ConsoleProcess::intake($place);
            $this->awaitPart($place, $worker);
            usleep($this->random->getInt(0, 60_000));
            self::noise($file, substr((string) file_get_contents($file), 0, 1000));
            $sum->fault('rewritten');
            $worker->wait();
            $now = (string) md5_file($file);
            $losses = [];
            foreach ([$place->shelf, $place->twin] as $root) {
                foreach ($place->contentsBelow($root) as $path => $content) {
                    if ($content !== $now && !\in_array($content, $place->content, true)) {
                        $losses[] = 'torn: '.$path;
                    }
                }
            }
            $isCleared = self::isCleared($place);
            if ($isCleared && !\in_array($now, $place->contentsBelow($place->twin), true)) {
                $losses[] = 'cleared, though what is on the card now is in no second place';
            }
            $sum->trial($losses);
            $place->remove();
        }

        return $sum;
    }

    /** After a restart devices have other numbers; the drive is the same. Needs the right to mount. */
    public function renumbered(int $trials): TrialSum
    {
        $sum = new TrialSum('device numbers changed');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $image = $this->image($place->twin);
            try {
                $worker = ConsoleProcess::intake($place);
                $this->awaitPart($place, $worker);
                $worker->kill();
                self::run(['umount', '-l', $place->twin]);
                $other = $place->twin.'-other';
                mkdir($other);
                $image2 = $this->image($other); // takes the device that was free
                self::run(['mount', '-o', 'loop', $image, $place->twin]);
                $sum->fault('mounted anew');
                $sum->trial($this->takenIn($place));
                self::run(['umount', $other]);
                rmdir($other);
                unlink($image2);
            } finally {
                self::run(['umount', '-l', $place->twin]);
                unlink($image);
                $place->remove();
            }
        }

        return $sum;
    }

    /**
     * The shelf's folder is empty because its drive is off: nothing is held to be missing, nothing is written there.
     * Needs the right to mount.
     */
    public function shelfOff(int $trials): TrialSum
    {
        $sum = new TrialSum('the shelf’s drive off');
        for ($n = 0; $n < $trials; ++$n) {
            $place = $this->place();
            $image = $this->image($place->shelf);
            try {
                $losses = $this->takenIn($place);
                self::run(['umount', '-l', $place->shelf]);
                $sum->fault('taken off');
                array_push($losses, ...$this->mustNotBeCleared($place, 'its shelf is off'));
                ConsoleProcess::intake($place)->wait();
                if (\count((array) scandir($place->shelf)) > 2) {
                    $losses[] = 'written where the drive had been';
                }
                self::run(['mount', '-o', 'loop', $image, $place->shelf]);
                $sum->trial(
                    [...$losses, ...(self::isCleared($place) ? [] : ['not cleared though everything is there again'])],
                );
            } finally {
                self::run(['umount', '-l', $place->shelf]);
                unlink($image);
                $place->remove();
            }
        }

        return $sum;
    }

    private function place(): TrialPlace
    {
        $n = ++$this->made;
        $memory = '/dev/shm/velvet-words-'.getmypid().'-'.$n;

        return new TrialPlace(
            $this->folder.'/words-'.$n,
            self::FRAMES,
            $this->random,
            twin: is_writable('/dev/shm') ? $memory : null,
        );
    }

    /** A file system of its own at a folder. @return string the file that it is in */
    private function image(string $folder): string
    {
        $image = $this->folder.'/image-'.bin2hex(random_bytes(4));
        self::run(['truncate', '-s', '300M', $image]);
        self::run(['mkfs.ext4', '-q', $image]);
        self::run(['mount', '-o', 'loop', $image, $folder]);
        rmdir($folder.'/lost+found');

        return $image;
    }

    /** @return list<string> what is lost, or why the word is not said though it is true */
    private function takenIn(TrialPlace $place): array
    {
        $since = microtime(true);
        while (0 !== ConsoleProcess::intake($place)->wait()) {
            if (microtime(true) - $since > self::PATIENCE) {
                return ['the intake does not come to its end'];
            }
        }
        $losses = $place->losses();
        // where nothing but one drive is to be had the word is never said
        [$shelf, $twin] = [stat($place->shelf), stat($place->twin)];
        $mayBe = false !== $shelf && false !== $twin && $shelf['dev'] !== $twin['dev'];

        return [] === $losses && $mayBe && !self::isCleared($place)
            ? ['not cleared though everything is in two places']
            : $losses;
    }

    /** @return list<string> */
    private function mustNotBeCleared(TrialPlace $place, string $fault): array
    {
        return self::isCleared($place) ? ['cleared, though: '.$fault] : [];
    }

    public static function isCleared(TrialPlace $place): bool
    {
        exec(
            implode(
                ' ',
                array_map(
                    escapeshellarg(...),
                    [\PHP_BINARY, \dirname(__DIR__, 3).'/server/bin/console', 'velvet:cleared', $place->card],
                ),
            ).' 2>/dev/null',
            $output,
            $status,
        );

        return 0 === $status;
    }

    /**
     * Another card, its files of the same names, sizes and times, comes in its place. @return string where the first
     * one lies now.
     */
    private function exchanged(TrialPlace $place): string
    {
        $out = $place->card.'-out';
        rename($place->card, $out);
        self::run(['cp', '-a', $out, $place->card]);
        foreach (array_keys($place->content) as $path) {
            self::noise($path, substr((string) file_get_contents($path), 0, 1000));
        }

        return $out;
    }

    /** Other bytes of equal size, with the time set back. */
    private static function noise(string $path, string $head = ''): bool
    {
        clearstatcache();
        [$bytes, $time] = [(int) filesize($path), (int) filemtime($path)];
        $handle = fopen($path, 'r+');
        if (false === $handle) {
            throw new \RuntimeException($path);
        }
        fwrite($handle, $head.random_bytes(max(1, $bytes - \strlen($head))));
        fclose($handle);

        return touch($path, $time);
    }

    private function copyIn(TrialPlace $place): string
    {
        $copies = array_keys($place->contentsBelow(0 === $this->random->getInt(0, 1) ? $place->shelf : $place->twin));

        return $copies[$this->random->getInt(0, \count($copies) - 1)];
    }

    /** Until something is being written, or the worker has ended. */
    private function awaitPart(TrialPlace $place, ConsoleProcess $worker): void
    {
        while ($worker->runs() && !$place->isAnyBegun()) {
            usleep(200);
        }
    }

    /** @param list<string> $command */
    private static function run(array $command): bool
    {
        exec(implode(' ', array_map(escapeshellarg(...), $command)).' 2>&1', $output, $status);
        if (0 !== $status) {
            throw new \RuntimeException(implode(' ', $command).': '.implode(' ', $output));
        }

        return true;
    }
}
