<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\ShotTime;

final class ShotTimeTest extends TestCase
{
    #[DataProvider('times')]
    public function testReadsExif(
        string $dateTime,
        string $subSeconds,
        string $offset,
        ?string $text,
        ?string $zone,
    ): void {
        $time = ShotTime::fromExif($dateTime, $subSeconds, $offset);
        self::assertSame($text, $time?->text());
        self::assertSame($zone, $time?->offset);
    }

    /** @return iterable<string, array{string, string, string, ?string, ?string}> */
    public static function times(): iterable
    {
        // EXIF 2.32, 4.6.5 F: "YYYY:MM:DD HH:MM:SS"; unknown is blanks with colons
        yield 'plain' => ['2026:05:02 19:31:40', '', '', '2026-05-02T19:31:40', null];
        yield 'sub-seconds are digits after the point' => [
            '2026:05:02 19:31:40',
            '5',
            '',
            '2026-05-02T19:31:40.500',
            null,
        ];
        yield 'many digits' => ['2026:05:02 19:31:40', '123456', '', '2026-05-02T19:31:40.123', null];
        yield 'offset' => ['2026:05:02 19:31:40', '', '+02:00', '2026-05-02T19:31:40', '+02:00'];
        yield 'offset of nonsense' => ['2026:05:02 19:31:40', '', '+2', '2026-05-02T19:31:40', null];
        yield 'unknown' => ['    :  :     :  :  ', '', '', null, null];
        yield 'zeros' => ['0000:00:00 00:00:00', '', '', null, null];
        yield 'no such day' => ['2026:02:29 12:00:00', '', '', null, null];
        yield 'leap day' => ['2028:02:29 12:00:00', '', '', '2028-02-29T12:00:00', null];
        yield 'no such hour' => ['2026:02:20 25:00:00', '', '', null, null];
        yield 'no such minute' => ['2026:02:20 24:01:00', '', '', null, null];
        yield 'the end of a day belongs to it' => ['2026:02:20 24:00:00', '', '', '2026-02-20T23:59:59', null];
        yield 'a leap second, too' => ['2026:06:30 23:59:60', '', '', '2026-06-30T23:59:59', null];
        yield 'without seconds' => ['2026:05:02 19:31', '', '', '2026-05-02T19:31:00', null];
        yield 'UTC as a letter' => ['2026:05:02 19:31:40', '', 'Z', '2026-05-02T19:31:40', '+00:00'];
        yield 'written with dashes by some programs' => ['2026-05-02 19:31:40', '', '', '2026-05-02T19:31:40', null];
        yield 'text' => ['yesterday', '', '', null, null];
    }

    public function testTextGoesThereAndBack(): void
    {
        $time = ShotTime::fromExif('2026:05:02 23:59:59', '087');
        self::assertEquals($time, ShotTime::fromText((string) $time?->text()));
        self::assertEquals($time, ShotTime::fromText('2026-05-02 23:59:59.087'));
    }

    public function testTicksCountMilliseconds(): void
    {
        $before = ShotTime::fromExif('2026:03:29 01:59:59', '900');
        $after = ShotTime::fromExif('2026:03:29 03:00:00', '100');
        self::assertNotNull($before);
        self::assertNotNull($after);
        // a wall clock knows no summer time: an hour and 200 ms lie between, whatever Europe did that night
        self::assertSame(3_600_200, $after->ticks() - $before->ticks());
    }

    public function testFileTimes(): void
    {
        $zone = new \DateTimeZone('Europe/Berlin');
        self::assertSame('2026-05-02T12:00:00', ShotTime::fromFileTime(1_777_716_000, $zone)?->text());
        self::assertNull(ShotTime::fromFileTime(0, $zone));
        self::assertNull(
            ShotTime::fromFileTime(315_532_800, $zone),
            '1980-01-01, where FAT starts, is no time that was ever set',
        );
    }
}
