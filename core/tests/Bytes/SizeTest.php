<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Bytes;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Size;

/** Decimal units (SI; IEC 80000-13), as sentences say them. */
final class SizeTest extends TestCase
{
    #[DataProvider('sizes')]
    public function testASizeIsSaidInTheUnitThatSuitsIt(int $bytes, string $words): void
    {
        self::assertSame($words, Size::inWords($bytes));
    }

    /** @return iterable<array{int, string}> */
    public static function sizes(): iterable
    {
        yield [0, '0 bytes'];
        yield [1, '1 byte'];
        yield [999, '999 bytes'];
        yield [1000, '1.0 kB'];
        yield [999_949, '999.9 kB'];
        yield [999_950, '1.0 MB'];
        yield [64_000_000_000, '64.0 GB'];
        yield [2_000_000_000_000_000, '2000.0 TB'];
    }
}
