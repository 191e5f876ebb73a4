<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\PageCache;
use Velvet\Core\Copy\VerifiedCopy;

/**
 * Verified copies to two places by two workers, as in production, against the careful way by hand (cp to both, sync,
 * drop what the computer's memory holds of them, cmp both with the card) and against a bare double cp with its
 * unavoidable reading again. Before each way nothing of the card is in memory.
 */
final class CopyBench implements Bench
{
    private const LARGE = [100, 25_000_000];
    private const SMALL = [5000, 20_000];
    private const WORKERS = 2;

    public function run(string $folder): iterable
    {
        foreach (['large' => self::LARGE, 'small' => self::SMALL] as $name => [$files, $bytes]) {
            $at = "$folder/$name";
            mkdir("$at/card", 0o755, true);
            for ($n = 0; $n < $files; ++$n) {
                file_put_contents("$at/card/$n.raw", random_bytes($bytes));
            }
            [$seconds, $memory] = $this->ours($at, $files, $bytes);
            $cd = 'cd '.escapeshellarg($at);
            self::forget("$at/card");
            $bare = Timed::shell("$cd && mkdir a b && cp card/* a/ && cp card/* b/ && sync");
            array_map(self::forget(...), ["$at/card", "$at/a", "$at/b"]);
            $reading = Timed::shell("$cd && cat a/* b/* > /dev/null");
            array_map(self::forget(...), ["$at/card", "$at/a", "$at/b"]);
            $compare = Timed::shell(
                "$cd && for f in card/*; do cmp \$f a/\${f#card/} && cmp \$f b/\${f#card/} || exit 1; done",
            );
            $size = number_format($bytes / 1000).' kB';
            yield \sprintf(
                '%d files of %s to two places: ours %.2f s, by hand with care %.2f s, ratio %.2f',
                $files,
                $size,
                $seconds,
                $bare + $compare,
                ($bare + $compare) / $seconds,
            );
            yield \sprintf(
                '%d files of %s to two places: ours %.2f s, bare double cp with sync and reading again %.2f s, ratio '
                    .'%.2f',
                $files,
                $size,
                $seconds,
                $bare + $reading,
                ($bare + $reading) / $seconds,
            );
            yield \sprintf(
                '%d files of %s, memory: ours %.0f MB a worker at most (nothing to compare with)',
                $files,
                $size,
                $memory / 1e6,
            );
            exec('rm -rf '.escapeshellarg($at));
        }
    }

    /** @return array{float, int} seconds, and the most bytes of memory that a worker took */
    private function ours(string $at, int $files, int $bytes): array
    {
        self::forget("$at/card");
        $seconds = Timed::seconds(static function () use ($at, $files, $bytes): void {
            $workers = [];
            for ($w = 0; $w < self::WORKERS; ++$w) {
                $pid = pcntl_fork();
                if (0 === $pid) {
                    $copy = new VerifiedCopy(new PageCache());
                    for ($n = $w; $n < $files; $n += self::WORKERS) {
                        $card = "$at/card/$n.raw";
                        $copy->copy(
                            new FileToCopy(
                                $card,
                                $bytes,
                                (int) filemtime($card),
                                ["$at/shelf/$n.raw", "$at/twin/$n.raw"],
                                "b-$n",
                            ),
                            new OneReader("$at/reading"),
                        );
                    }
                    file_put_contents("$at/memory-$w", (string) memory_get_peak_usage(true));
                    posix_kill(posix_getpid(), \SIGKILL); // leaves without running what belongs to the parent
                }
                $workers[] = $pid;
            }
            foreach ($workers as $pid) {
                pcntl_waitpid($pid, $status);
            }
        });
        if (\count((array) glob("$at/shelf/*.raw")) !== $files || \count((array) glob("$at/twin/*.raw")) !== $files) {
            throw new \RuntimeException('Not everything was copied.');
        }

        return [
            $seconds,
            max(
                array_map(
                    static fn (int $w): int => (int) file_get_contents("$at/memory-$w"),
                    range(0, self::WORKERS - 1),
                ),
            ),
        ];
    }

    /** Drops what the computer's memory holds of a folder's files. */
    private static function forget(string $folder): void
    {
        exec('sync');
        $cache = new PageCache();
        foreach ((array) glob($folder.'/*') as $path) {
            $cache->forget((string) $path);
        }
    }
}
