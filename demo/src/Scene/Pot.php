<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Picture;

/** A thrown pot: a profile turned about its axis, lit from a window, its glaze shining, speckled and running. */
final class Pot
{
    private const WIDTH = 960;
    private const HEIGHT = 1104;

    /** Seen a little from above: circles are so flat. */
    private const FLAT = 0.22;

    /** Radius along the height, 0 at the rim to 1 at the foot, as parts of the half width. */
    private const PROFILES = [
        'bowl' => [0.98, 0.97, 0.95, 0.92, 0.86, 0.78, 0.66, 0.5, 0.36, 0.33],
        'jar' => [0.42, 0.4, 0.52, 0.76, 0.92, 0.98, 0.95, 0.84, 0.66, 0.5],
        'vase' => [0.3, 0.26, 0.25, 0.3, 0.48, 0.7, 0.82, 0.84, 0.74, 0.52],
        'cup' => [0.62, 0.61, 0.6, 0.6, 0.6, 0.6, 0.59, 0.57, 0.52, 0.44],
        'bottle' => [0.2, 0.17, 0.17, 0.2, 0.38, 0.66, 0.78, 0.8, 0.76, 0.62],
    ];

    private const TALL = ['bowl' => 0.5, 'jar' => 0.9, 'vase' => 1.0, 'cup' => 0.62, 'bottle' => 1.0];

    /**
     * @param array{int, int, int} $glaze the colour of the upper glaze
     * @param array{int, int, int} $clay  the colour of what shows beneath
     */
    public static function drawn(string $shape, array $glaze, array $clay, int $seed): Picture
    {
        $profile = self::PROFILES[$shape];
        $tall = self::TALL[$shape] * self::HEIGHT;
        $top = self::HEIGHT - $tall - 6;
        $half = self::WIDTH / 2 - 4;
        $rimRadius = $profile[0] * $half;
        $rimDepth = $rimRadius * self::FLAT;
        $span = $tall - $rimDepth - $profile[9] * $half * self::FLAT;
        $phase = $seed * 1.7;
        mt_srand($seed, \MT_RAND_MT19937);
        $speckle = [];
        for ($i = 0; $i < 4096; ++$i) {
            $speckle[] = mt_rand() / mt_getrandmax();
        }
        $turned = self::turned($profile, $half, $tall);
        $last = \count($turned) - 1;
        $bytes = '';
        for ($y = 0; $y < self::HEIGHT; ++$y) {
            for ($x = 0; $x < self::WIDTH; ++$x) {
                $dx = $x - self::WIDTH / 2;
                // the front hangs lower, by as much as the pot is wide there: guessed, then looked up
                $v = ($y - $top - 2 * $rimDepth) / $span;
                $radius = $turned[max(0, min($last, (int) ($v * $last)))][0];
                $v = ($y - $top - $rimDepth - self::FLAT * sqrt(max(0.0, $radius ** 2 - $dx ** 2))) / $span;
                $inRim = ($dx / $rimRadius) ** 2 + (($y - $top - $rimDepth) / $rimDepth) ** 2;
                if ($inRim <= 1) {
                    // inside the mouth: dark, a lip of light where the rim turns
                    $lip = $inRim > 0.86 ? 1 : 0;
                    $shade = 1 === $lip
                        ? 0.8 + 0.25 * (-$dx / $rimRadius)
                        : 0.16 + 0.34 * max(0, $dx / $rimRadius) + 0.12 * (($y - $top) / (2 * $rimDepth));
                    $bytes .= \chr(
                        self::byte($glaze[0] * $shade + 20 * $lip),
                    ).\chr(
                        self::byte($glaze[1] * $shade + 20 * $lip),
                    ).\chr(self::byte($glaze[2] * $shade + 20 * $lip)).\chr((int) (255 * min(1, (1 - $inRim) * 30)));
                    continue;
                }
                if ($v < 0 || $v > 1) {
                    $bytes .= "\0\0\0\0";
                    continue;
                }
                [$radius, $slope] = $turned[(int) ($v * $last)];
                $u = $dx / $radius;
                if (abs($u) >= 1) {
                    $bytes .= "\0\0\0\0";
                    continue;
                }
                $nz = sqrt(1 - $u * $u);
                $length = sqrt(1 + $slope * $slope);
                $nx = $u / $length;
                $ny = -$slope / $length;
                $nzz = $nz / $length;
                $light = max(0.0, -0.72 * $nx - 0.38 * -$ny * -1 + 0.56 * $nzz - 0.1 * $ny);
                $shade = 0.2 + 0.95 * $light + 0.1 * max(0.0, $nx) ** 2;
                $angle = asin($u);
                $run = 0.5
                    + 0.09 * sin($angle * 5 + $phase)
                    + 0.05 * sin($angle * 13 + $phase * 2)
                    + 0.02 * sin($angle * 29);
                $cover = 1 / (1 + exp(($v - $run - 0.12) * 46)); // the glaze runs and ends in drips
                $thick = exp(-(($v - $run - 0.08) ** 2) * 340) * $cover;
                $ring = 0.035 * sin($v * 130 + sin($angle * 2) * 0.6);
                $dark = 1 - 0.4 * self::speckled($speckle, $v * 105, $angle * 35 + 400);
                $mottle = 1 + 0.09 * sin($angle * 9 + $v * 21 + $phase) * sin($v * 33 - $angle * 4);
                // the window on the glaze: a bright quadrangle with a bar in it
                $hx = ($nx + 0.5) / 0.15;
                $hy = ($v - 0.33) / 0.13;
                $window = abs($hx) < 1 && abs($hy) < 1 && abs($hx) > 0.07 ? (1 - $hx ** 4) * (1 - $hy ** 4) : 0.0;
                $gloss = 150 * $window * (0.25 + 0.75 * $cover) + 70 * max(0.0, $light) ** 16 * $cover;
                $edge = min(1.0, (1 - abs($u)) * $radius / 1.4, (1 - $v) * $span / 1.4);
                for ($c = 0; $c < 3; ++$c) {
                    $colour = $clay[$c] * (1 - $cover) * (1 + $ring * 2)
                        + ($glaze[$c] * $mottle * (1 - 0.22 * $thick) + 8 * $ring) * $cover;
                    $bytes .= \chr(self::byte($colour * $shade * $dark + $gloss));
                }
                $bytes .= \chr((int) (255 * $edge));
            }
        }

        return Picture::fromBytes($bytes, self::WIDTH, self::HEIGHT, 4);
    }

    /**
     * How much of a place is covered by one of the round specks in the glaze, 0 to 1. They lie in some of the squares
     * of a grid, each somewhere in its own.
     *
     * @param list<float> $chances 4,096 of them, 0 to 1
     */
    private static function speckled(array $chances, float $x, float $y): float
    {
        $cell = (int) $x * 61 + (int) $y * 7;
        if ($chances[$cell & 4095] < 0.88) {
            return 0.0;
        }
        $radius = 0.1 + 0.16 * $chances[($cell + 1) & 4095] ** 2;
        $dx = $x - (int) $x - 0.3 - 0.4 * $chances[($cell + 2) & 4095];
        $dy = $y - (int) $y - 0.3 - 0.4 * $chances[($cell + 3) & 4095];

        return max(0.0, min(1.0, ($radius - sqrt($dx * $dx + $dy * $dy)) / 0.06));
    }

    /**
     * The profile as a smooth curve through its points (Catmull-Rom).
     *
     * @param list<float> $profile
     *
     * @return list<array{float, float}> radius and slope at 2,001 heights
     */
    private static function turned(array $profile, float $half, float $tall): array
    {
        $turned = [];
        for ($n = 0; $n <= 2000; ++$n) {
            $at = $n / 2000 * 9;
            $i = min(8, (int) $at);
            $t = $at - $i;
            [$a, $b, $c, $d] = [$profile[max(0, $i - 1)], $profile[$i], $profile[$i + 1], $profile[min(9, $i + 2)]];
            [$square, $cube] = [2 * $a - 5 * $b + 4 * $c - $d, 3 * $b - $a - 3 * $c + $d];
            $radius = 0.5 * (2 * $b + ($c - $a) * $t + $square * $t ** 2 + $cube * $t ** 3);
            $slope = 0.5 * (($c - $a) + 2 * $square * $t + 3 * $cube * $t ** 2);
            $turned[] = [$radius * $half, $slope * $half / ($tall / 9)];
        }

        return $turned;
    }

    private static function byte(float $value): int
    {
        return (int) max(0, min(255, $value));
    }
}
