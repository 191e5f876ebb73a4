<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Assert;

/** The program `vips` from Debian makes pictures in formats that PHP does not write. */
final class Vips
{
    /** Makes a picture of 96 × 64 pixels; the extension says in which format. */
    public static function write(string $path): void
    {
        $source = $path.'.v';
        exec(
            \sprintf(
                'vips perlin %1$s 96 64 --cell-size 16 --uchar && vips copy %1$s %2$s 2>&1 && rm %1$s',
                escapeshellarg($source),
                escapeshellarg($path),
            ),
            $output,
            $result,
        );
        Assert::assertSame(0, $result, implode("\n", $output));
    }
}
