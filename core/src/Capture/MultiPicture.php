<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * The index of a JPEG that carries more pictures behind the first (CIPA DC-007, “Multi-Picture Format”, 5.2): a TIFF
 * structure in an APP2 segment. Cameras put larger previews there than Exif allows.
 */
final readonly class MultiPicture
{
    /** UNDEFINED, 16 bytes a picture: attribute, size, offset from the structure's start, two dependents. */
    public const ENTRIES = 0xB002;
    public const ENTRY = 16;
    private const MOST = 64;
    private const KIND = 0xFFFFFF;
    private const LARGE_THUMBNAILS = [0x010001, 0x010002]; // as large as VGA, as full HD
    private const SHOTS = [0x020001, 0x020002, 0x020003, 0x030000]; // panorama, two eyes, several angles; the first

    /**
     * @param ByteRange|null $preview the largest one behind the picture
     * @param int            $shots   pictures that are none of another, the first among them; 0 where nothing is said
     */
    private function __construct(public ?ByteRange $preview, public int $shots)
    {
    }

    /** @param int $base where the TIFF structure stands in the file */
    public static function of(FileBytes $bytes, int $base, int $length): self
    {
        $block = TiffBlock::at($bytes, $base, $length);
        $entries = $block?->ifd($block->firstIfd)?->bytes(self::ENTRIES, self::MOST * self::ENTRY) ?? '';
        $largest = null;
        $shots = 0;
        for ($at = 0; null !== $block && $at + self::ENTRY <= \strlen($entries); $at += self::ENTRY) {
            $offset = TiffBlock::number($entries, $at + 8, 4, $block->littleEndian);
            $range = ByteRange::within(
                $bytes->size(),
                $base + $offset,
                TiffBlock::number($entries, $at + 4, 4, $block->littleEndian),
            );
            $kind = TiffBlock::number($entries, $at, 4, $block->littleEndian) & self::KIND;
            $shots += null !== $range && \in_array($kind, self::SHOTS, true) ? 1 : 0;
            if (
                \in_array($kind, self::LARGE_THUMBNAILS, true)
                && $offset > 0
                && null !== $range
                && $range->length > ($largest->length ?? 0)
                && "\xFF\xD8\xFF" === $bytes->read($range->offset, 3)
            ) {
                $largest = $range;
            }
        }

        return new self($largest, $shots);
    }
}
