<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * RAF (well known): a header that points to a whole JPEG with its Exif, and to a table with the raw image's size.
 * Big-endian.
 */
final class RafReader implements CaptureReader
{
    private const SIGNATURE = 'FUJIFILMCCD-RAW ';
    private const JPEG_AT = 84;
    private const TABLE_AT = 92;
    private const RAW_AT = 100;
    private const FULL_SIZE = 0x0100;   // two SHORTs: height, width
    private const CROPPED_SIZE = 0x0111;
    private const MOST_RECORDS = 1000;

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, self::SIGNATURE) ? Container::Raf : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $header = $bytes->read(0, 108);
        $preview = ByteRange::within(
            $bytes->size(),
            TiffBlock::number($header, self::JPEG_AT, 4, false),
            TiffBlock::number($header, self::JPEG_AT + 4, 4, false),
        );
        $segments = null === $preview ? null : JpegReader::segments($bytes, $preview->offset, $exif);
        [$width, $height] = $this->size($bytes, TiffBlock::number($header, self::TABLE_AT, 4, false));
        $end = TiffBlock::number($header, self::RAW_AT, 4, false)
            + TiffBlock::number($header, self::RAW_AT + 4, 4, false);
        $problems = null === $preview || $end > $bytes->size() ? [CaptureProblem::cutShort($name)] : [];

        return $exif->facts($width, $height, $segments?->thumbnail, $preview, false, $problems);
    }

    /** @return array{int|null, int|null} */
    private function size(FileBytes $bytes, int $table): array
    {
        $size = [null, null];
        $count = min(self::MOST_RECORDS, TiffBlock::number($bytes->read($table, 4), 0, 4, false));
        for ($at = $table + 4, $n = 0; $n < $count; ++$n) {
            $record = $bytes->read($at, 8);
            if (8 !== \strlen($record)) {
                break;
            }
            $tag = TiffBlock::number($record, 0, 2, false);
            if (self::CROPPED_SIZE === $tag || (self::FULL_SIZE === $tag && null === $size[0])) {
                $size = [TiffBlock::number($record, 6, 2, false), TiffBlock::number($record, 4, 2, false)];
            }
            $at += 4 + TiffBlock::number($record, 2, 2, false);
        }

        return $size;
    }
}
