<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\TestCase;
use Velvet\Server\Work\Backup\Retention;

final class RetentionTest extends TestCase
{
    public function testTheLatestAndTheLastOfDaysAndMonthsAreKept(): void
    {
        $made = [];
        foreach ([
            '2026-11-29 18:00',
            '2026-11-29 12:00',
            '2026-11-29 09:00',
            '2026-11-28 20:00',
            '2026-11-28 08:00',
            '2026-11-02 10:00',
            '2026-10-31 23:59',
            '2026-10-01 00:00',
            '2026-08-15 12:00',
        ] as $at) {
            $made[$at] = new \DateTimeImmutable($at);
        }
        self::assertSame(['2026-11-29 18:00', '2026-11-29 12:00'], (new Retention(2, 0, 0))->kept($made));
        self::assertSame(
            ['2026-11-29 18:00', '2026-11-28 20:00', '2026-11-02 10:00'],
            (new Retention(0, 3, 0))->kept($made),
        );
        self::assertSame(
            ['2026-11-29 18:00', '2026-11-29 12:00', '2026-11-28 20:00', '2026-10-31 23:59', '2026-08-15 12:00'],
            (new Retention(2, 2, 3))->kept(array_reverse($made)),
        );
        self::assertSame([], Retention::ofHome()->kept([]));
    }
}
