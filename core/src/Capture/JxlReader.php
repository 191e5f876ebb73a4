<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\Box;
use Velvet\Core\Bytes\FileBytes;

/** JPEG XL (ISO 18181-1 codestream, 18181-2 container with `Exif` and `xml ` boxes). */
final class JxlReader implements CaptureReader
{
    private const CONTAINER = "\0\0\0\x0CJXL \r\n\x87\n";
    private const CODESTREAM = "\xFF\x0A";
    /** Width to height, by the ratio field of the size header (ISO 18181-1, table for ratio). */
    private const RATIOS = [
        1 => [1, 1],
        2 => [12, 10],
        3 => [4, 3],
        4 => [3, 2],
        5 => [16, 9],
        6 => [5, 4],
        7 => [2, 1],
    ];

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, self::CONTAINER) || str_starts_with($head, self::CODESTREAM)
            ? Container::Jxl
            : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        if (self::CODESTREAM === $bytes->read(0, 2)) {
            [$width, $height] = self::size($bytes->read(2, 16));

            return $exif->facts(
                $width,
                $height,
                null,
                null,
                true,
                0 === $width ? [CaptureProblem::cutShort($name)] : [],
            );
        }
        $size = [0, 0];
        $xmp = null;
        $isWhole = true;
        foreach (Box::within($bytes, 0, $bytes->size()) as $box) {
            $isWhole = $isWhole && $box->isWhole;
            switch ($box->type) {
                case 'Exif':
                    $skip = 4 + $box->number(0, 4);
                    ExifBlock::read($bytes, $box->start + $skip, $box->length - $skip, $exif);
                    break;
                case 'xml ':
                    $xmp = $box->read(0, 256 * 1024);
                    break;
                case 'jxlc':
                    $size = self::size($box->read(2, 16));
                    break;
                case 'jxlp':
                    $size = 0 === $size[0] ? self::size($box->read(6, 16)) : $size;
                    break;
            }
        }
        if (null !== $xmp) {
            XmpFacts::add($xmp, $exif);
        }

        return $exif->facts(
            0 === $size[0] ? null : $size[0],
            0 === $size[1] ? null : $size[1],
            null,
            null,
            true,
            $isWhole && 0 !== $size[0] ? [] : [CaptureProblem::cutShort($name)],
        );
    }

    /** @return array{int, int} width and height from the size header; zeros where it is cut */
    private static function size(string $header): array
    {
        if (\strlen($header) < 12) {
            return [0, 0];
        }
        $at = 0;
        $take = static function (int $count) use ($header, &$at): int { // least significant bit first
            $value = 0;
            for ($i = 0; $i < $count; ++$i, ++$at) {
                $value |= (\ord($header[$at >> 3]) >> ($at & 7) & 1) << $i;
            }

            return $value;
        };
        $small = 1 === $take(1);
        $edge = static fn (): int => $small ? ($take(5) + 1) * 8 : $take([9, 13, 18, 30][$take(2)]) + 1;
        $height = $edge();
        $ratio = self::RATIOS[$take(3)] ?? null;

        return [null === $ratio ? $edge() : intdiv($height * $ratio[0], $ratio[1]), $height];
    }
}
