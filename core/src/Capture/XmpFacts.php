<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * The few facts that are taken from an XMP packet (ISO 16684-1) where Exif has none: the time and the rating.
 * Properties may stand as attributes or as elements; their usual prefixes are relied upon, and no XML entity is ever
 * expanded.
 */
final class XmpFacts
{
    private const TIMES = ['exif:DateTimeOriginal', 'photoshop:DateCreated', 'xmp:CreateDate'];
    /** Bytes of a packet that are looked at. */
    public const LONGEST = 256 * 1024;

    public static function add(string $packet, ExifReading $exif): void
    {
        $packet = substr($packet, 0, self::LONGEST);
        foreach (self::TIMES as $property) {
            $text = self::property($packet, $property);
            if (
                null !== $text
                && 1 === preg_match('/^(\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d)?)(?:\.(\d+))?(Z|[+\-]\d\d:\d\d)?$/', $text, $part)
            ) {
                $clock = 16 === \strlen($part[1]) ? $part[1].':00' : $part[1];
                $offset = $part[3] ?? '';
                $exif->takeTime(
                    ShotTime::fromExif($clock, $part[2] ?? '', 'Z' === $offset ? '+00:00' : $offset),
                    TimeSource::Xmp,
                );
            }
        }
        $rating = self::property($packet, 'xmp:Rating');
        if (null === $exif->rating && null !== $rating && 1 === preg_match('/^[0-5]$/', $rating)) {
            $stars = (int) $rating;
            \assert($stars >= 0 && $stars <= 5);
            $exif->rating = $stars;
        }
    }

    private static function property(string $packet, string $name): ?string
    {
        $name = preg_quote($name, '~');

        return 1 === preg_match(
            '~\s'.$name.'\s*=\s*(["\'])([^"\'<>]{1,64})\1|<'.$name.'\s*>\s*([^<>]{1,64}?)\s*</'.$name.'~',
            $packet,
            $match,
        )
            ? $match[3] ?? $match[2] : null;
    }
}
