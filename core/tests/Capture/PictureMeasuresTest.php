<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\PictureMeasures;

final class PictureMeasuresTest extends TestCase
{
    #[DataProvider('pictures')]
    public function testWhatAPictureLooksLike(string $grey, float $brightness, bool $black, bool $blown): void
    {
        $measures = PictureMeasures::of($grey, max(1, \strlen($grey)));
        self::assertEqualsWithDelta($brightness, $measures->brightness, 0.005);
        self::assertSame([$black, $blown], [$measures->looksBlack(), $measures->looksBlownOut()]);
        self::assertFalse($measures->looksBlurred(), 'too few edges to tell');
    }

    /** @return iterable<string, array{string, float, bool, bool}> */
    public static function pictures(): iterable
    {
        yield 'a lens cap' => [str_repeat("\3\5\2\7", 500), 0.017, true, false];
        yield 'a night with one lamp' => [str_repeat("\3", 1980).str_repeat("\xE0", 20), 0.02, false, false];
        yield 'middle grey' => [str_repeat("\x80", 900), 0.502, false, false];
        yield 'snow in the sun, half of it clipped' => [
            str_repeat("\xFF\xFF\xFF\xFF\xFF\xFF\xFF\xFF\xE0\xE0\xE0\xE0\xE0\xE0\xE0\xE0", 50),
            0.939,
            false,
            true,
        ];
        yield 'white' => ["\xFF", 1.0, false, true];
    }

    /**
     * Bars whose edges are ramps of a known width: a ramp over n pixels has 1/n of its contrast between two neighbours.
     */
    #[DataProvider('ramps')]
    public function testSharpnessIsTheSteepnessOfEdges(int $pixels, float $sharpness, bool $blurred): void
    {
        $row = '';
        for ($bar = 0; $bar < 16; ++$bar) {
            for ($x = 0; $x < 24; ++$x) {
                $share = min(1.0, $x / $pixels);
                $row .= \chr((int) round(40 + 160 * (0 === $bar % 2 ? $share : 1 - $share)));
            }
        }
        $measures = PictureMeasures::of(str_repeat($row, 200), 16 * 24);
        self::assertEqualsWithDelta($sharpness, $measures->sharpness, 0.03);
        self::assertSame($blurred, $measures->looksBlurred());
    }

    /** @return iterable<string, array{int, float, bool}> */
    public static function ramps(): iterable
    {
        yield 'a hard edge' => [1, 1.0, false];
        yield 'two pixels' => [2, 0.5, false];
        yield 'four pixels' => [4, 0.27, true];
        yield 'eight pixels, of which some windows see the half' => [8, 0.25, true];
    }

    public function testOneSharpThingInASoftPictureIsEnough(): void
    {
        $soft = '';
        for ($x = 0; $x < 240; ++$x) {
            $soft .= \chr((int) round(128 + 80 * sin($x / 5)));
        }
        $hard = str_repeat(str_repeat("\x28", 12).str_repeat("\xC8", 12), 10);
        self::assertTrue(PictureMeasures::of(str_repeat($soft, 160), 240)->looksBlurred());
        self::assertFalse(PictureMeasures::of(str_repeat($soft, 120).str_repeat($hard, 40), 240)->looksBlurred());
    }

    public function testNothingIsNoPicture(): void
    {
        $this->expectException(\ValueError::class);
        PictureMeasures::of('', 1);
    }
}
