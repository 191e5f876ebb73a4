<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Shoot\Sharpest;

final class SharpestTest extends TestCase
{
    public function testItIsTheFirstOfTheHighestAndNoneWhereOneIsUnknown(): void
    {
        self::assertSame(4, Sharpest::of([3 => 0.2, 4 => 0.5, 7 => 0.5]));
        self::assertNull(Sharpest::of([3 => 0.2, 4 => null, 7 => 0.1]));
        self::assertNull(Sharpest::of([]));
    }

    public function testWhereTheCameraFocusedCountsIfItIsKnownOfAll(): void
    {
        self::assertSame(7, Sharpest::of([3 => 0.9, 7 => 0.5], [3 => 0.3, 7 => 0.6]));
        self::assertSame(3, Sharpest::of([3 => 0.9, 7 => 0.5], [3 => null, 7 => 0.6]));
    }
}
