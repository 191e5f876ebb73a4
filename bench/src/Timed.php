<?php

declare(strict_types=1);

namespace Velvet\Bench;

/** Seconds that something took. */
final class Timed
{
    /** @param \Closure(): void $work */
    public static function seconds(\Closure $work): float
    {
        $since = hrtime(true);
        $work();

        return (hrtime(true) - $since) / 1e9;
    }

    /** Runs a shell command that must succeed. */
    public static function shell(string $command): float
    {
        return self::seconds(static function () use ($command): void {
            exec($command.' 2>&1', $output, $result);
            if (0 !== $result) {
                throw new \RuntimeException($command.': '.implode("\n", $output));
            }
        });
    }
}
