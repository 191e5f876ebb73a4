<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\JpegPayload;
use Velvet\Core\Bytes\JpegSegment;
use Velvet\Core\Bytes\JpegSegments;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Capture\Orientation;

/**
 * A JPEG for a browser, its picture byte for byte as a file has it: to show every pixel nothing need be decoded. Of
 * what stands beside the picture only that comes along which says how it looks: JFIF's segment, the ICC profile (ICC.1,
 * annex B.4), Adobe's colour transform (ITU-T T.872, 6.5.3, from memory), and how it is to be shown.
 */
final class ShownJpeg
{
    private const JFIF = 0xE0;
    private const PROFILE = 0xE2;
    private const PROFILE_SIGNATURE = "ICC_PROFILE\0";
    private const TRANSFORM = 0xEE;
    /** What a browser should have to hold; more than cameras make. */
    private const MOST_PIXELS = 200_000_000;
    /** Baseline, extended and progressive DCT by Huffman codes (ITU-T T.81, table B.1): what browsers decode. */
    private const FRAMES = [0xC0, 0xC1, 0xC2];

    /**
     * @param ByteRange   $range of the JPEG in the file
     * @param Orientation $as    how it is to be shown
     * @param int         $most  pixels of its long edge
     *
     * @return list<string|ByteRange>|null ranges are of the file; null where a browser would not show it, or not whole
     */
    public static function of(FileBytes $bytes, ByteRange $range, Orientation $as, int $most): ?array
    {
        try {
            [$segments, $scan] = JpegSegments::of($bytes, $range->offset)->whole();
            $pieces = [JpegSegments::START];
            $isShown = false;
            foreach ($segments as $segment) {
                if (self::saysHowItLooks($bytes, $segment)) {
                    $pieces[] = Splice::range($bytes, $segment->start, JpegSegment::HEADER + $segment->length);
                }
                $isShown = $isShown || self::isShown($bytes, $segment, $most);
            }
            array_splice($pieces, 1, 0, [JpegSegment::bytes(
                JpegPayload::Exif->marker(),
                JpegPayload::Exif->signature().Packets::exifShownAs($as),
            )]);
            $pieces[] = Splice::range($bytes, $scan, $range->offset + $range->length - $scan);
        } catch (StructureBroken) {
            return null;
        }

        return $isShown ? $pieces : null;
    }

    private static function saysHowItLooks(FileBytes $bytes, JpegSegment $segment): bool
    {
        return match (true) {
            !$segment->isBesidePicture() => true,
            self::PROFILE === $segment->marker => self::PROFILE_SIGNATURE
                === $bytes->read($segment->payload(), \strlen(self::PROFILE_SIGNATURE)),
            default => \in_array($segment->marker, [self::JFIF, self::TRANSFORM], true),
        };
    }

    /** Whether it is the frame header of grey or colour in 8 bits, and not too large. */
    private static function isShown(FileBytes $bytes, JpegSegment $segment, int $most): bool
    {
        if (!\in_array($segment->marker, self::FRAMES, true)) {
            return false;
        }
        $head = $bytes->read($segment->payload(), 6);
        $number = static fn (int $at, int $length): int => TiffBlock::number($head, $at, $length, false);

        return 6 === \strlen($head) && 8 === $number(0, 1) && \in_array($number(5, 1), [1, 3], true)
            && max($number(1, 2), $number(3, 2)) <= $most && $number(1, 2) * $number(3, 2) <= self::MOST_PIXELS;
    }
}
