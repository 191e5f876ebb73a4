<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\ImageResources;
use Velvet\Core\Bytes\StructureBroken;

/** The few facts that are taken from IPTC IIM 4.2 datasets where Exif and XMP have none. */
final class IimFacts
{
    private const DATE_CREATED = 55;   // CCYYMMDD
    private const TIME_CREATED = 60;   // HHMMSS±HHMM
    private const BY_LINE = 80;
    private const COPYRIGHT = 116;

    /** @param string $resources of APP13 segments, behind their signature */
    public static function add(string $resources, ExifReading $exif): void
    {
        try {
            $block = IimBlock::readable(ImageResources::read($resources)->iim());
        } catch (StructureBroken) {
            return;
        }
        $exif->artist ??= self::text($block, self::BY_LINE);
        $exif->copyright ??= self::text($block, self::COPYRIGHT);
        $date = self::text($block, self::DATE_CREATED) ?? '';
        $time = self::text($block, self::TIME_CREATED) ?? '';
        if (
            1 === preg_match('/^(\d{4})(\d\d)(\d\d)$/', $date, $day)
            && 1 === preg_match('/^(\d\d)(\d\d)(\d\d)([+\-]\d{4})?$/', $time, $clock)
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

    private static function text(IimBlock $block, int $dataset): ?string
    {
        $text = trim($block->texts($dataset)[0] ?? '', "\0 ");

        return '' === $text ? null : mb_scrub($text, 'UTF-8');
    }
}
