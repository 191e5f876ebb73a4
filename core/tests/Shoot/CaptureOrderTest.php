<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Shoot\CaptureOrder;
use Velvet\Core\Shoot\OriginalNumber;
use Velvet\Core\Shoot\TimedFrame;

final class CaptureOrderTest extends TestCase
{
    /** @param list<string> $paths in the order that is expected, all of one camera and one moment */
    #[DataProvider('moments')]
    public function testNumbersDecideWithinOneMoment(array $paths): void
    {
        $frames = array_map(static fn (string $path): TimedFrame => self::frame($path, '2026-05-02T19:31:40'), $paths);
        mt_srand(4);
        for ($n = 0; $n < 20; ++$n) {
            shuffle($frames);
            self::assertSame($paths, array_column(CaptureOrder::of($frames), 'path'));
        }
    }

    /** @return iterable<string, array{list<string>}> */
    public static function moments(): iterable
    {
        yield 'as people count' => [['T9.JPG', 'T10.JPG', 'T100.JPG']];
        yield 'roll-over in one folder' => [['T9998.JPG', 'T9999.JPG', 'T0001.JPG', 'T0002.JPG']];
        yield 'roll-over at a split of folders' => [
            [
                'DCIM/100TARNA/TARA9998.JPG',
                'DCIM/100TARNA/TARA9999.JPG',
                'DCIM/101TARNA/TARA0001.JPG',
                'DCIM/101TARNA/TARA0002.JPG',
            ],
        ];
        yield 'a split without a roll-over' => [['DCIM/100TARNA/TARA0999.JPG', 'DCIM/101TARNA/TARA1000.JPG']];
        yield 'numbers beyond four digits do not roll over' => [['T0001.JPG', 'T20000.JPG']];
        yield 'a name without a number comes last' => [['T0001.JPG', 'BY HAND.JPG']];
    }

    public function testTimeThenPartsOfASecondThenCamera(): void
    {
        $frames = [
            self::frame('A3.JPG', null),
            self::frame('A2.JPG', '2026-05-02T19:31:41'),
            self::frame('B1.JPG', '2026-05-02T19:31:40', 'B'),
            self::frame('A9.JPG', '2026-05-02T19:31:40'),
            self::frame('A1.JPG', '2026-05-02T19:31:40.250'),
        ];
        self::assertSame(
            ['A9.JPG', 'B1.JPG', 'A1.JPG', 'A2.JPG', 'A3.JPG'],
            array_column(CaptureOrder::of($frames), 'path'),
        );
    }

    public function testOriginalNumbers(): void // DCF 2.0, 3.2
    {
        self::assertSame(
            [100, 417],
            [
                OriginalNumber::of('DCIM/100TARNA/TARA0417.JPG')->folder,
                OriginalNumber::of('DCIM/100TARNA/TARA0417.JPG')->file,
            ],
        );
        self::assertSame(
            [null, 417],
            [OriginalNumber::of('099TARNA/TARA0417.JPG')->folder, OriginalNumber::of('a/417.JPG')->file],
        );
        self::assertSame(
            [null, null],
            [OriginalNumber::of('BY HAND.JPG')->folder, OriginalNumber::of('BY HAND.JPG')->file],
        );
    }

    private static function frame(string $path, ?string $time, string $camera = 'A'): TimedFrame
    {
        return new TimedFrame(crc32($path), null === $time ? null : ShotTime::fromText($time), $camera, $path);
    }
}
