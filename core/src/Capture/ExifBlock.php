<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Ifd;
use Velvet\Core\Bytes\TiffBlock;

/**
 * An Exif structure inside another container: directory 0, the Exif and GPS directories it points to, the thumbnail's
 * directory (EXIF 2.32, 4.5).
 */
final class ExifBlock
{
    /**
     * Adds the block's facts to the reading.
     *
     * @param int $base   where the TIFF header stands in the file
     * @param int $length of the block, in bytes
     *
     * @return ByteRange|null the embedded thumbnail
     */
    public static function read(FileBytes $bytes, int $base, int $length, ExifReading $exif): ?ByteRange
    {
        $block = TiffBlock::at($bytes, $base, $length);
        $first = $block?->ifd($block->firstIfd);
        if (null === $block || null === $first) {
            return null;
        }
        self::linked($bytes, $block, $first, $exif);
        $exif->take($first);
        $second = 0 === $first->next ? null : $block->ifd($first->next);
        $offset = $second?->integer(ExifTag::JPEG_OFFSET);
        $size = $second?->integer(ExifTag::JPEG_LENGTH);

        return null === $offset || null === $size ? null : ByteRange::within($bytes->size(), $base + $offset, $size);
    }

    /** The directories that directory 0 points to; they speak first. */
    public static function linked(FileBytes $bytes, TiffBlock $block, Ifd $first, ExifReading $exif): void
    {
        $private = $block->ifd($first->integer(ExifTag::EXIF_IFD) ?? 0);
        if (null !== $private) {
            $exif->take($private);
            $note = $private->range(ExifTag::MAKER_NOTE);
            $exif->noted ??= null === $note
                ? null
                : MakerFacts::of(
                    $bytes,
                    $block,
                    $note,
                    $first->text(ExifTag::MAKE) ?? '',
                    $first->text(ExifTag::MODEL) ?? '',
                    array_values(array_filter([$exif->pixelWidth, $exif->pixelHeight], is_int(...))),
                );
        }
        $gps = $block->ifd($first->integer(ExifTag::GPS_IFD) ?? 0);
        if (null !== $gps) {
            $exif->takePlace($gps);
        }
    }
}
