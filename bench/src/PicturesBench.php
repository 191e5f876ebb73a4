<?php

declare(strict_types=1);

namespace Velvet\Bench;

/**
 * A card of 2,000 frames from being put in to pictures on the screen, in a real browser. There is no other program to
 * compare with.
 */
final class PicturesBench implements Bench
{
    private const FRAMES = 2000;

    public function run(string $folder): iterable
    {
        $times = BenchCard::inTheBrowser('first-pictures.mjs', self::FRAMES);
        if (
            !is_numeric($times['noticed'] ?? null)
            || !is_numeric($times['read'] ?? null)
            || !is_numeric($times['pictures'] ?? null)
        ) {
            throw new \RuntimeException('The browser measured something else than times.');
        }
        yield \sprintf(
            '%d frames: noticed after %.2f s, all facts after %.2f s, first pictures on the sheet %.2f s after that '
                .'(nothing to compare with)',
            self::FRAMES,
            $times['noticed'] / 1000,
            $times['read'] / 1000,
            $times['pictures'] / 1000,
        );
    }
}
