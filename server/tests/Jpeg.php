<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Dng\TiffWriter;

/** Small JPEGs with an Exif time, made in memory. */
final class Jpeg
{
    /** @param string $time `YYYY:MM:DD HH:MM:SS`; empty for a JPEG without Exif */
    public static function of(string $seed, string $time, ?int $colour = null, string $camera = 'Heron 5'): string
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
        $tiff = new TiffWriter();
        $exif = $tiff->directory([0x9003 => [TiffWriter::ASCII, $time]]);
        $segment = "Exif\0\0".$tiff->finished($tiff->directory([0x010F => [TiffWriter::ASCII, 'Tarn Optical'], 0x0110 => [TiffWriter::ASCII, $camera], 0x8769 => [TiffWriter::LONG, [$exif]]]));

        return "\xFF\xD8\xFF\xE1".pack('n', \strlen($segment) + 2).$segment.$comment.substr($jpeg, 2);
    }
}
