<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Bytes\TiffWriter;

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
        $segment = "Exif\0\0".$tiff->finished(
            $tiff->directory(
                [
                    0x010F => [TiffWriter::ASCII, 'Tarn Optical'],
                    0x0110 => [TiffWriter::ASCII, $camera],
                    0x8769 => [TiffWriter::LONG, [$exif]],
                ],
            ),
        );

        return "\xFF\xD8\xFF\xE1".pack('n', \strlen($segment) + 2).$segment.$comment.substr($jpeg, 2);
    }

    /**
     * An even grey in progressive coding (ITU-T T.81): a bit for each 8 × 8 samples, so that a file of a megabyte can
     * be as large as the format allows. A decoder keeps 128 bytes for each of them.
     */
    public static function progressive(int $width, int $height): string
    {
        $segment = static fn (int $marker, string $content): string => pack(
            'CCn',
            0xFF,
            $marker,
            \strlen($content) + 2,
        ).$content;
        $blocks = (int) ceil($width / 8) * (int) ceil($height / 8);

        return "\xFF\xD8"
            .$segment(0xDB, "\0".str_repeat("\1", 64))                          // quantization: all ones
            .$segment(0xC2, pack('CnnCCCC', 8, $height, $width, 1, 1, 0x11, 0))  // a progressive frame of one component
            // one code, `0`: no difference to the last
            .$segment(0xC4, "\0\1".str_repeat("\0", 15)."\0")
            .$segment(0xDA, pack('CCCCCC', 1, 1, 0, 0, 0, 0))                    // a scan of the mean values
            .str_repeat("\0", (int) ceil($blocks / 8))."\xFF\xD9";
    }
}
