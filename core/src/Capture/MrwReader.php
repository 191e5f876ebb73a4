<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/** MRW (well known): named blocks, of which PRD tells the picture's size and TTW is a TIFF structure. Big-endian. */
final class MrwReader implements CaptureReader
{
    private const MOST_BLOCKS = 100;

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, "\0MRM") ? Container::Mrw : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $width = $height = $thumbnail = null;
        $samples = 0;
        $end = 8 + TiffBlock::number($bytes->read(4, 4), 0, 4, false);
        for ($at = 8, $n = 0; $at + 8 <= min($end, $bytes->size()) && $n < self::MOST_BLOCKS; ++$n) {
            $header = $bytes->read($at, 8);
            $length = TiffBlock::number($header, 4, 4, false);
            if (str_starts_with($header, "\0PRD")) {
                // eight bytes of version, then heights and widths of the sensor and of the picture, then bits per sample as stored
                $size = $bytes->read($at + 16, 9);
                [$height, $width] = [TiffBlock::number($size, 4, 2, false), TiffBlock::number($size, 6, 2, false)];
                $samples = intdiv(
                    TiffBlock::number($size, 0, 2, false) * TiffBlock::number($size, 2, 2, false) * TiffBlock::number($size, 8, 1, false) + 7,
                    8,
                );
            } elseif (str_starts_with($header, "\0TTW")) {
                $thumbnail = ExifBlock::read($bytes, $at + 8, $length, $exif);
            }
            $at += 8 + $length;
        }

        return $exif->facts(
            $width,
            $height,
            $thumbnail,
            null,
            false,
            $samples > 0 && $end + $samples <= $bytes->size() ? [] : [CaptureProblem::cutShort($name)],
        );
    }
}
