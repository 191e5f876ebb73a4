<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\MrwBlocks;
use Velvet\Core\Bytes\TiffBlock;

/** MRW (well known): one of its blocks tells the picture's size, another one is a TIFF structure with its Exif. */
final class MrwReader implements CaptureReader
{
    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, MrwBlocks::SIGNATURE) ? Container::Mrw : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $found = MrwBlocks::of($bytes);
        $picture = $found->blocks[MrwBlocks::PICTURE] ?? null;
        // eight bytes of version, then heights and widths of the sensor and of the picture, then bits per sample as
        // stored
        $size = null === $picture ? '' : $bytes->read($picture->offset + 8, 9);
        $short = static fn (int $at): int => TiffBlock::number($size, $at, 2, false);
        $samples = intdiv($short(0) * $short(2) * TiffBlock::number($size, 8, 1, false) + 7, 8);
        $tiff = $found->blocks[MrwBlocks::TIFF] ?? null;

        return $exif->facts(
            '' === $size ? null : $short(6),
            '' === $size ? null : $short(4),
            null === $tiff ? null : ExifBlock::read($bytes, $tiff->offset, $tiff->length, $exif),
            null,
            false,
            $samples > 0 && $found->end + $samples <= $bytes->size() ? [] : [CaptureProblem::cutShort($name)],
        );
    }
}
