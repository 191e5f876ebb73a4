<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\TiffBlock;

/**
 * The few facts that are taken from IPTC IIM 4.2 datasets where Exif and XMP have none: creator, copyright, date and
 * time. In a JPEG they lie in an APP13 segment as image resource 0x0404 (Photoshop File Formats Specification, “Image
 * Resources”).
 */
final class IimFacts
{
    public const SEGMENT = "Photoshop 3.0\0";
    private const RESOURCE = 0x0404;
    private const APPLICATION_RECORD = 2;
    private const DATE_CREATED = 55;   // CCYYMMDD
    private const TIME_CREATED = 60;   // HHMMSS±HHMM
    private const BY_LINE = 80;
    private const COPYRIGHT = 116;
    private const CODED_CHARACTER_SET = 90; // of record 1; ESC % G means UTF-8

    /** @param string $segment the APP13 segment's payload behind its signature */
    public static function add(string $segment, ExifReading $exif): void
    {
        for ($at = 0; $at + 12 <= \strlen($segment) && '8BIM' === substr($segment, $at, 4);) {
            $id = TiffBlock::number($segment, $at + 4, 2, false);
            $name = \ord($segment[$at + 6]) + 1;
            $name += $name % 2; // a text of even length, its own length before it
            $length = TiffBlock::number($segment, $at + 6 + $name, 4, false);
            if (self::RESOURCE === $id) {
                self::datasets(substr($segment, $at + 10 + $name, $length), $exif);

                return;
            }
            $at += 10 + $name + $length + $length % 2;
        }
    }

    private static function datasets(string $data, ExifReading $exif): void
    {
        $found = [];
        for ($at = 0; $at + 5 <= \strlen($data) && "\x1C" === $data[$at];) { // IIM 4.2, 1.5: marker, record, dataset, length
            $length = TiffBlock::number($data, $at + 3, 2, false);
            if ($length > 0x7FFF) {
                break; // an extended dataset: none of ours needs one
            }
            $found[\ord($data[$at + 1])][\ord($data[$at + 2])] ??= substr($data, $at + 5, $length);
            $at += 5 + $length;
        }
        $isUtf8 = "\x1B%G" === ($found[1][self::CODED_CHARACTER_SET] ?? '');
        $fields = $found[self::APPLICATION_RECORD] ?? [];
        $exif->artist ??= self::text($fields[self::BY_LINE] ?? '', $isUtf8);
        $exif->copyright ??= self::text($fields[self::COPYRIGHT] ?? '', $isUtf8);
        if (
            1 === preg_match('/^(\d{4})(\d\d)(\d\d)$/', $fields[self::DATE_CREATED] ?? '', $day)
            && 1 === preg_match('/^(\d\d)(\d\d)(\d\d)([+\-]\d{4})?$/', $fields[self::TIME_CREATED] ?? '', $clock)
        ) {
            $exif->takeTime(
                ShotTime::fromExif(
                    "$day[1]:$day[2]:$day[3] $clock[1]:$clock[2]:$clock[3]",
                    '',
                    substr($clock[4] ?? '', 0, 3).':'.substr($clock[4] ?? '', 3),
                ),
                TimeSource::Iim,
            );
        }
    }

    private static function text(string $text, bool $isUtf8): ?string
    {
        $text = trim($text, "\0 ");
        if (!$isUtf8 && !mb_check_encoding($text, 'UTF-8')) {
            $text = mb_convert_encoding($text, 'UTF-8', 'ISO-8859-1');
        }

        return '' === $text ? null : mb_scrub($text, 'UTF-8');
    }
}
