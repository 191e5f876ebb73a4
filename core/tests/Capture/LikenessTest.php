<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Likeness;

final class LikenessTest extends TestCase
{
    private const WIDTH = 512;
    private const HEIGHT = 341;

    /** A ramp to the right, computed by hand: each of eight steps to the right is brighter, none downwards. */
    public function testARampIsSaidBitByBit(): void
    {
        $row = '';
        for ($x = 0; $x < 90; ++$x) {
            $row .= \chr(2 * $x);
        }
        self::assertSame(str_repeat('a', 32), Likeness::of(str_repeat($row, 90), 90)?->hex);
        self::assertSame(str_repeat('0', 32), Likeness::of(str_repeat(strrev($row), 90), 90)?->hex, 'nothing grows');
        self::assertNull(Likeness::of(str_repeat("\x80", 8100), 90), 'there is nothing to see');
        self::assertNull(Likeness::of("\0", 1));
    }

    public function testBitsThatDifferAreCounted(): void
    {
        $all = Likeness::fromHex(str_repeat('f', 32));
        $one = Likeness::fromHex(str_repeat('0', 31).'1');
        self::assertSame([0, 127], [$all->apart($all), $all->apart($one)]);
        self::assertTrue($one->isLike(Likeness::fromHex(str_repeat('0', 32))));
        self::assertFalse($all->isLike($one));
        $this->expectException(\ValueError::class);
        Likeness::fromHex('not hexadecimal');
    }

    /**
     * Made scenes, each taken again: the camera a little lower and further left, other light, other grain, one small
     * thing moved. How many of these are found, and how many of what is found is right, is printed.
     */
    public function testTriesOfOnePictureAreFoundAndOtherPicturesAreNot(): void
    {
        mt_srand(20260502);
        [$found, $wrong, $far, $near] = [0, 0, [], []];
        $scenes = 60;
        $before = null;
        for ($scene = 0; $scene < $scenes; ++$scene) {
            $things = self::things();
            $one = self::taken($things, 0, 0, 1.0);
            $moved = $things;
            $moved[0][0] += 20;
            $again = self::taken($moved, mt_rand(-6, 6), mt_rand(-4, 4), mt_rand(85, 115) / 100);
            $near[] = $apart = $one->apart($again);
            $found += $one->isLike($again) ? 1 : 0;
            if (null !== $before) {
                $far[] = $one->apart($before);
                $wrong += $one->isLike($before) ? 1 : 0;
            }
            $before = $one;
        }
        fwrite(\STDERR, \sprintf(
            "\nnear-duplicates: %d of %d found, %d of %d other pictures taken for one; bits apart at most %d, "
                ."others at least %d\n",
            $found,
            $scenes,
            $wrong,
            \count($far),
            max(0, ...$near),
            min(128, ...$far),
        ));
        self::assertGreaterThanOrEqual(0.9 * $scenes, $found);
        self::assertSame(0, $wrong);
    }

    /** @return non-empty-list<array{int, int, int, int, int}> left, top, width, height, grey; the first is small */
    private static function things(): array
    {
        $things = [[mt_rand(50, 400), mt_rand(50, 250), 30, 30, mt_rand(0, 255)]];
        for ($thing = 0; $thing < 14; ++$thing) {
            $things[] = [mt_rand(-50, 480), mt_rand(-50, 320), mt_rand(40, 220), mt_rand(40, 160), mt_rand(0, 255)];
        }

        return $things;
    }

    /** @param list<array{int, int, int, int, int}> $things */
    private static function taken(array $things, int $right, int $down, float $light): Likeness
    {
        $rows = [];
        for ($y = 0; $y < self::HEIGHT; ++$y) {
            $rows[] = str_repeat(\chr(60 + intdiv($y, 3)), self::WIDTH);
        }
        foreach (array_reverse($things) as [$left, $top, $width, $height, $grey]) {
            $from = max(0, $left + $right);
            $to = min(self::WIDTH, $left + $right + $width);
            for ($y = max(0, $top + $down); $y < min(self::HEIGHT, $top + $down + $height); ++$y) {
                if ($to > $from) {
                    $rows[$y] = substr_replace($rows[$y], str_repeat(\chr($grey), $to - $from), $from, $to - $from);
                }
            }
        }
        $grey = implode('', $rows);
        $lit = '';
        foreach (range(0, 255) as $value) {
            $lit .= \chr(min(255, (int) ($value * $light)));
        }
        $grey = strtr($grey, implode('', array_map(chr(...), range(0, 255))), $lit);
        for ($grain = 0; $grain < 20_000; ++$grain) {
            $at = mt_rand(0, \strlen($grey) - 1);
            $grey[$at] = \chr(max(0, min(255, \ord($grey[$at]) + mt_rand(-25, 25))));
        }

        return Likeness::of($grey, self::WIDTH) ?? self::fail('It has pixels enough.');
    }
}
