<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * The few things that some raw files keep in their maker's own structures and nowhere else (well known): where ORF has
 * its preview, and how large the picture in an IIQ is, whose directories describe a thumbnail only.
 */
final class MakerNote
{
    /**
     * How notes begin whose offsets count from their own start, and where their directory stands: II, then a version.
     */
    private const ORF_HEADS = ["OLYMPUS\0II" => 12, "OM SYSTEM\0\0\0II" => 16];
    private const ORF_SETTINGS = 0x2020; // a directory: in it 0x0101 the preview's offset, 0x0102 its length
    private const ORF_PREVIEW = 0x0101;
    private const ORF_PREVIEW_LENGTH = 0x0102;

    private const IIQ_AT = 8;
    private const IIQ_WIDTH = 0x010C;
    private const IIQ_HEIGHT = 0x010D;
    private const IIQ_SERIAL = 0x0102;
    private const MOST_RECORDS = 300;

    /** The preview of an ORF. */
    public static function preview(FileBytes $bytes, ByteRange $note): ?ByteRange
    {
        foreach (self::ORF_HEADS as $head => $first) {
            if ($bytes->read($note->offset, \strlen($head)) === $head) {
                $block = TiffBlock::inside($bytes, $note->offset, $bytes->size() - $note->offset, true, $first);
                $settings = $block->ifd($block->ifd($first)?->integer(self::ORF_SETTINGS) ?? 0);
                $range = ByteRange::within(
                    $bytes->size(),
                    $note->offset + ($settings?->integer(self::ORF_PREVIEW) ?? 0),
                    $settings?->integer(self::ORF_PREVIEW_LENGTH) ?? 0,
                );

                return null !== $range && "\xFF\xD8\xFF" === $bytes->read($range->offset, 3) ? $range : null;
            }
        }

        return null;
    }

    /**
     * What the block behind an IIQ's header says: records of tag, type, length and value, 32 bits each.
     *
     * @return array{int, int, string|null}|null width, height and serial number; null where there is no such block
     */
    public static function iiq(FileBytes $bytes): ?array
    {
        $head = $bytes->read(self::IIQ_AT, 12);
        $little = str_starts_with($head, 'IIII') && 'waR' === substr($head, 5, 3);
        if (!$little && !str_starts_with($head, 'MMMMRaw')) {
            return null;
        }
        $directory = self::IIQ_AT + TiffBlock::number($head, 8, 4, $little);
        $count = min(self::MOST_RECORDS, TiffBlock::number($bytes->read($directory, 4), 0, 4, $little));
        $table = $bytes->read($directory + 8, 16 * $count);
        $size = [0, 0];
        $serial = null;
        for ($at = 0; $at + 16 <= \strlen($table); $at += 16) {
            $value = TiffBlock::number($table, $at + 12, 4, $little);
            switch (TiffBlock::number($table, $at, 4, $little)) {
                case self::IIQ_WIDTH:
                    $size[0] = $value;
                    break;
                case self::IIQ_HEIGHT:
                    $size[1] = $value;
                    break;
                case self::IIQ_SERIAL:
                    $serial = trim(
                        mb_scrub(
                            $bytes->read(
                                self::IIQ_AT + $value,
                                min(64, TiffBlock::number($table, $at + 8, 4, $little)),
                            ),
                            'UTF-8',
                        ),
                        "\0 ",
                    );
                    break;
            }
        }

        return 0 === $size[0] || 0 === $size[1] ? null : [...$size, '' === $serial ? null : $serial];
    }
}
