<?php

declare(strict_types=1);

namespace Velvet\Bench;

/**
 * Edits on a sheet of 5,000 frames, from the key to the page that shows it, in a real browser. There is no other
 * program to compare with.
 */
final class EditsBench implements Bench
{
    private const FRAMES = 5000;

    public function run(string $folder): iterable
    {
        foreach (BenchCard::inTheBrowser('edits.mjs', self::FRAMES) as $edit => $times) {
            \assert(\is_array($times));
            yield \sprintf(
                '%d frames, %s: seen after %s ms, answered by the server after %s ms (nothing to compare with)',
                self::FRAMES,
                $edit,
                self::range($times, 'seen'),
                self::range($times, 'server'),
            );
        }
    }

    /** @param array<mixed> $times */
    private static function range(array $times, string $what): string
    {
        $millis = array_values(array_filter(array_column($times, $what), is_numeric(...)));
        if ([] === $millis) {
            throw new \RuntimeException('The browser measured nothing.');
        }
        sort($millis);

        return \sprintf('%.0f to %.0f', $millis[0], $millis[\count($millis) - 1]);
    }
}
