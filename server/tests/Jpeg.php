<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

/** Small JPEGs with an Exif time, made in memory. */
final class Jpeg
{
    /** @param string $time `YYYY:MM:DD HH:MM:SS`; empty for a JPEG without Exif */
    public static function of(string $seed, string $time, ?int $colour = null): string
    {
        $image = imagecreatetruecolor(24, 16);
        \assert(false !== $image);
        imagefill($image, 0, 0, $colour ?? crc32($seed) & 0xFFFFFF);
        ob_start();
        imagejpeg($image, null, 90);
        $jpeg = (string) ob_get_clean();
        // a comment segment makes files of different names differ for certain
        $comment = "\xFF\xFE".pack('n', \strlen($seed) + 2).$seed;
        if ('' === $time) {
            return substr($jpeg, 0, 2).$comment.substr($jpeg, 2);
        }
        $directory = pack('v', 1).pack('vvVV', 0x9003, 2, 20, 44).pack('V', 0).$time."\0";
        $tiff = "II\x2A\0\x08\0\0\0".pack('v', 1).pack('vvVV', 0x8769, 4, 1, 26).pack('V', 0).$directory;
        $segment = "Exif\0\0".$tiff;

        return "\xFF\xD8\xFF\xE1".pack('n', \strlen($segment) + 2).$segment.$comment.substr($jpeg, 2);
    }
}
