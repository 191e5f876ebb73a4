<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Shoot\Day;

final class DayTest extends TestCase
{
    #[TestWith(['2026-03-01', '2026-02-28'])]
    #[TestWith(['2028-03-01', '2028-02-29'])] // a leap year of the Gregorian calendar
    #[TestWith(['2000-03-01', '2000-02-29'])]
    #[TestWith(['1900-03-01', '1900-02-28'])]
    #[TestWith(['2027-01-01', '2026-12-31'])]
    public function testTheDayBefore(string $day, string $before): void
    {
        $one = Day::fromText($day);
        self::assertSame($before, $one->before()->text());
        self::assertTrue(Day::areSame($one->before(), Day::fromText($before)));
        self::assertSame([true, false, false], [
            $one->before()->isBefore($one), $one->isBefore($one), $one->isBefore($one->before()),
        ]);
        self::assertSame('"'.$day.'"', json_encode($one));
        self::assertSame(substr($day, 0, 4), $one->year());
    }

    public function testNoDayIsLikeNoDayOnly(): void
    {
        self::assertTrue(Day::areSame(null, null));
        self::assertFalse(Day::areSame(null, Day::fromText('2026-05-02')));
    }

    #[TestWith(['2026-02-29'])]
    #[TestWith(['2026-13-01'])]
    #[TestWith(['2026-5-2'])]
    #[TestWith(['2026-05-02T00:00:00'])]
    #[TestWith([''])]
    public function testWhatIsNoDayIsRefused(string $text): void
    {
        $this->expectException(\ValueError::class);
        Day::fromText($text);
    }
}
