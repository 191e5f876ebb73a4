<?php

declare(strict_types=1);

namespace Velvet\Demo;

use Velvet\Core\Bytes\TiffWriter as T;

/** Makes the files a camera writes: JPEG with Exif (EXIF 2.32), and raw as TIFF/EP (ISO 12234-2). */
final readonly class FrameFiles
{
    private const THUMBNAIL = 160;
    public const BLACK = 512;
    public const WHITE = 16_383;

    public static function jpeg(Picture $picture, Exposure $exposure): string
    {
        $stamp = self::thumbnail($picture)->jpeg(72);
        $tiff = new T();
        $private = $tiff->directory(
            self::private($exposure) + [
                0xA002 => [T::LONG, $picture->width()],
                0xA003 => [T::LONG, $picture->height()],
                0xA001 => [T::SHORT, 1],
            ],
        );
        $small = $tiff->directory(
            [
                0x0103 => [T::SHORT, 6],
                0x011A => [T::RATIONAL, [72, 1]],
                0x011B => [T::RATIONAL, [72, 1]],
                0x0128 => [T::SHORT, 2],
                0x0201 => [T::LONG, $tiff->data($stamp)],
                0x0202 => [T::LONG, \strlen($stamp)],
            ],
        );
        $first = $tiff->directory(
            self::common($exposure) + [0x0213 => [T::SHORT, 2], 0x8769 => [T::LONG, $private]],
            $small,
        );
        $segment = "Exif\0\0".$tiff->finished($first);

        return "\xFF\xD8\xFF\xE1".pack('n', \strlen($segment) + 2).$segment.substr($picture->jpeg(88), 2);
    }

    /** Raw samples of 14 bits in 16, RGGB, with a preview and a thumbnail: what the maker calls TRW. */
    public static function raw(Picture $picture, Exposure $exposure): string
    {
        $w = $picture->width();
        $h = $picture->height();
        $thumbnail = self::thumbnail($picture);
        $preview = $picture->stretched(0.5, 0.5)->finished();
        $stamp = $thumbnail->jpeg(72);
        $half = $preview->jpeg(84);
        $samples = self::mosaic($picture);
        $tiff = new T();
        $image = $tiff->directory([
            0x00FE => [T::LONG, 0], 0x0100 => [T::LONG, $w], 0x0101 => [T::LONG, $h], 0x0102 => [T::SHORT, 16],
            0x0103 => [T::SHORT, 1], 0x0106 => [T::SHORT, 32803],
            0x0111 => [T::LONG, $tiff->data($samples)], 0x0115 => [T::SHORT, 1], 0x0116 => [T::LONG, $h],
            0x0117 => [T::LONG, \strlen($samples)], 0x011C => [T::SHORT, 1],
            0x828D => [T::SHORT, [2, 2]], 0x828E => [T::BYTE, [0, 1, 1, 2]],
        ]);
        $small = $tiff->directory(
            [
                0x00FE => [T::LONG, 1],
                0x0100 => [T::LONG, $thumbnail->width()],
                0x0101 => [T::LONG, $thumbnail->height()],
                0x0103 => [T::SHORT, 6],
                0x0106 => [T::SHORT, 6],
                0x0201 => [T::LONG, $tiff->data($stamp)],
                0x0202 => [T::LONG, \strlen($stamp)],
            ],
        );
        $private = $tiff->directory(self::private($exposure));
        $first = $tiff->directory(self::common($exposure) + [
            0x00FE => [T::LONG, 1], 0x0100 => [T::LONG, $preview->width()],
            0x0101 => [T::LONG, $preview->height()], 0x0102 => [T::SHORT, [8, 8, 8]],
            0x0103 => [T::SHORT, 7], 0x0106 => [T::SHORT, 6], 0x0111 => [T::LONG, $tiff->data($half)],
            0x0115 => [T::SHORT, 3], 0x0116 => [T::LONG, $preview->height()],
            0x0117 => [T::LONG, \strlen($half)], 0x014A => [T::LONG, [$image, $small]],
            0x8769 => [T::LONG, $private], 0x9216 => [T::BYTE, [1, 0, 0, 0]],
        ]);

        return $tiff->finished($first);
    }

    private static function thumbnail(Picture $of): Picture
    {
        return $of->shrunk((int) ceil(max($of->width(), $of->height()) / self::THUMBNAIL))->finished();
    }

    /** Back to light: the display curve undone, the white balance taken out, one colour a site. */
    private static function mosaic(Picture $picture): string
    {
        $range = self::WHITE - self::BLACK;
        $linear = $picture->lookedUp(
            array_map(
                static fn (float $gain): \Closure => static fn (int $value): int => (int) round(
                    self::BLACK + $gain * $range * ($value / 255) ** 2.2,
                ),
                [0.55, 0.9, 0.62],
            ),
        );
        $w = $picture->width();
        $h = $picture->height();

        return $linear->band(0)->multiply(self::sites("\1\0\0\0", $w, $h))->plus(
            $linear->band(1)->multiply(self::sites("\0\1\1\0", $w, $h)),
        )->plus($linear->band(2)->multiply(self::sites("\0\0\0\1", $w, $h)))->words();
    }

    /** @param string $four which sites of each square of four count, 0 or 1 each */
    private static function sites(string $four, int $w, int $h): Picture
    {
        /** @var array<string, Picture> $kept of a card's pictures there are two sizes */
        static $kept = [];

        return $kept["$w $h $four"] ??= Picture::fromBytes($four, 2, 2, 1)->tiled($w, $h)->crop(0, 0, $w, $h)->settled();
    }

    /** @return array<int, array{int, mixed}> */
    private static function common(Exposure $exposure): array
    {
        return [
            0x010F => [T::ASCII, Camera::MAKE], 0x0110 => [T::ASCII, $exposure->camera->model],
            0x0112 => [T::SHORT, $exposure->orientation],
            0x011A => [T::RATIONAL, [300, 1]], 0x011B => [T::RATIONAL, [300, 1]], 0x0128 => [T::SHORT, 2],
            0x0131 => [T::ASCII, 'Firmware 1.2'], 0x0132 => [T::ASCII, $exposure->time],
        ];
    }

    /** @return array<int, array{int, mixed}> */
    private static function private(Exposure $exposure): array
    {
        return [
            0x829A => [T::RATIONAL, $exposure->shutter], 0x829D => [T::RATIONAL, $exposure->aperture],
            0x8822 => [T::SHORT, 0 === $exposure->bias ? 3 : 1], 0x8827 => [T::SHORT, $exposure->iso],
            0x8830 => [T::SHORT, 2], 0x8832 => [T::LONG, $exposure->iso], 0x9000 => [T::UNDEFINED, '0232'],
            0x9003 => [T::ASCII, $exposure->time], 0x9004 => [T::ASCII, $exposure->time],
            0x9010 => [T::ASCII, '+02:00'], 0x9011 => [T::ASCII, '+02:00'], 0x9012 => [T::ASCII, '+02:00'],
            0x9101 => [T::UNDEFINED, "\1\2\3\0"],
            0x9204 => [T::SIGNED_RATIONAL, [$exposure->bias, 3]], 0x9207 => [T::SHORT, 5], 0x9209 => [T::SHORT, 16],
            0x920A => [T::RATIONAL, [$exposure->focalMillimetres, 1]],
            0x9290 => [T::ASCII, \sprintf('%03d', $exposure->milliseconds)],
            0x9291 => [T::ASCII, \sprintf('%03d', $exposure->milliseconds)],
            0x9292 => [T::ASCII, \sprintf('%03d', $exposure->milliseconds)],
            0xA000 => [T::UNDEFINED, '0100'], 0xA431 => [T::ASCII, $exposure->camera->serial],
            0xA434 => [T::ASCII, $exposure->camera->lens],
        ];
    }
}
