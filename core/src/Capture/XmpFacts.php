<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\XmpPacket;

/**
 * The few facts that are taken from an XMP packet (ISO 16684-1) where Exif has none: the time and the rating. A packet
 * that is not well formed tells nothing.
 */
final class XmpFacts
{
    private const TIMES = ['exif:DateTimeOriginal', 'photoshop:DateCreated', 'xmp:CreateDate'];
    private const RATING = 'xmp:Rating';
    /** The profile of ISO 8601 that XMP takes (ISO 16684-1, 8.2.1.3); some write it as Exif does. */
    private const TIME = '/^(\d{4}[-:]\d\d[-:]\d\d[T ]\d\d:\d\d(?::\d\d)?)(?:\.(\d+))?(Z|[+\-]\d\d:\d\d)?$/';

    public static function add(string $packet, ExifReading $exif): void
    {
        $exif->packet ??= $packet;
        if (null !== $exif->capturedAt && null !== $exif->rating) {
            return; // nothing of it would be taken
        }
        try {
            $xmp = XmpPacket::read($packet);
        } catch (StructureBroken) {
            return;
        }
        foreach (self::TIMES as $property) {
            $text = trim($xmp->simple($property) ?? '');
            if (1 === preg_match(self::TIME, $text, $part)) {
                $exif->takeTime(ShotTime::fromExif($part[1], $part[2] ?? '', $part[3] ?? ''), TimeSource::Xmp);
            }
        }
        $rating = trim($xmp->simple(self::RATING) ?? '');
        if (null === $exif->rating && 1 === preg_match('/^[0-5]$/', $rating)) {
            $stars = (int) $rating;
            \assert($stars >= 0 && $stars <= 5);
            $exif->rating = $stars;
        }
    }
}
