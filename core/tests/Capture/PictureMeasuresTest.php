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
        $row = self::bars($pixels);
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

    /** A soft face before a hard background, and the other way about. */
    public function testTheAreaOfFocusIsMeasuredByItself(): void
    {
        $soft = self::bars(4);
        $hard = self::bars(1);
        // 384 × 256 pixels; of the left half the bars are soft, of the right half hard
        $grey = '';
        for ($y = 0; $y < 256; ++$y) {
            $grey .= substr($soft, 0, 192).substr($hard, 0, 192);
        }
        $inFocus = static fn (float $x): ?float => PictureMeasures::of($grey, 384, [$x, 0.5])->inFocus;
        // an edge that lies half in what is looked at seems steeper than it is
        self::assertLessThan(0.6, $inFocus(0.25));
        self::assertEqualsWithDelta(1.0, $inFocus(0.75), 0.04);
        self::assertLessThan(0.6, $inFocus(0.0), 'at the edge the area lies within the picture');
        self::assertNull(PictureMeasures::of($grey, 384)->inFocus, 'nobody knows where the camera focused');
        self::assertNull(PictureMeasures::of(str_repeat("\x80", 384 * 256), 384, [0.5, 0.5])->inFocus, 'no edges');
        self::assertNull(PictureMeasures::of(substr($hard, 0, 20), 20, [1.0, 1.0])->inFocus, 'a single short row');
    }

    /** @return string a row of 16 bars of 24 pixels, whose edges are ramps over so many pixels */
    private static function bars(int $pixels): string
    {
        $row = '';
        for ($bar = 0; $bar < 16; ++$bar) {
            for ($x = 0; $x < 24; ++$x) {
                $share = min(1.0, $x / $pixels);
                $row .= \chr((int) round(40 + 160 * (0 === $bar % 2 ? $share : 1 - $share)));
            }
        }

        return $row;
    }
}
