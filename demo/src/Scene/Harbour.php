<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Chance;
use Velvet\Demo\Picture;

/** The Lantern Regatta: boats with lanterns on dark water, from dusk to past midnight. */
final class Harbour extends Scene
{
    private const VIEWS = 5;

    /** A base is drawn this much larger than a frame, so that frames of one base can be framed a little differently. */
    private const ROOM = 1.08;

    /**
     * @param string $subject wide, boat, lantern or crowd
     * @param float  $night   0 at sunset, 1 in full night
     * @param int    $view    which part of the harbour
     * @param string $base    frames of one base show the same boats from nearly the same place
     */
    public function frame(
        int $w,
        int $h,
        string $subject,
        float $night,
        int $view,
        string $base,
        string $seed,
        bool $rain = false,
        float $blur = 0.0,
        float $stops = 0.0,
    ): Picture {
        $chance = new Chance($seed);
        $bw = 8 * (int) ceil($w * self::ROOM / 8);
        $bh = 8 * (int) ceil($h * self::ROOM / 8);
        $s = $this->scale;
        $whole = $this->kept(
            "base $bw $base",
            fn (): Picture => $this->base($bw, $bh, $subject, $night, $view % self::VIEWS, $rain, new Chance($base)),
        );
        $at = [$s * $chance->whole(0, $bw - $w), $s * $chance->whole(0, $bh - $h)];
        $picture = $whole->crop($at[0], $at[1], $s * $w, $s * $h);
        if ($rain) {
            $picture = $picture->plus($this->rain($w, $h, $chance));
        }

        return $this->photographed($picture, $chance, 4.0 + 5.0 * $night, $blur, $stops);
    }

    private function base(
        int $w,
        int $h,
        string $subject,
        float $night,
        int $view,
        bool $rain,
        Chance $chance,
    ): Picture {
        $picture = 'lantern' === $subject
            ? $this->lantern($w, $h, $night, $chance)
            : $this->water($w, $h, $subject, $night, $view, $chance);

        if ('crowd' === $subject) {
            $crowd = Picture::svg($w, $h, $this->crowd($w, $h, $chance))->blur(6);
            $picture = $picture->finished()->under($this->enlarged($crowd));
        }

        $picture = $this->glowing($picture, 0.2 + 0.15 * $night);

        return $this->vignetted(
            $rain ? $this->blurred($picture->finished(), 2.2)->linear([0.86, 0.86, 0.88], [9, 11, 15]) : $picture,
        );
    }

    private function water(int $w, int $h, string $subject, float $night, int $view, Chance $chance): Picture
    {
        $horizon = (int) ($h * ('boat' === $subject ? 0.58 : 0.5));
        $shore = $this->shore($w, $horizon, $night, $view);
        [$boats, $lights] = $this->boats($w, $horizon, $subject, $chance, $night);
        $above = $shore->under($this->svg($w, $horizon, $boats));
        $lamps = $this->svg($w, $horizon, $lights)->light()->colours()->settled();
        $bright = 'boat' === $subject ? 0.34 : 1.0;
        $halo = $this->halo($lamps, [[12, 1.7 * $bright], [60, 2.6 * $bright]]);
        $above = $above->plus($lamps)->plus($halo)->finished();
        // the water mirrors what stands above it, longer and broken by waves that grow towards the viewer
        $depth = $h - $horizon;
        $mirror = $this->small($above)->flipped(true)->sized($w, $depth);
        $swell = $this->kept(
            "swell $w $depth",
            static fn (): Picture => Picture::perlin(intdiv($w, 5) + 40, $depth + 200, 13, 7)->stretched(5.0, 1.0),
        );
        $ripple = $this->kept(
            "ripple $w $depth",
            static fn (): Picture => Picture::perlin(intdiv($w, 3) + 40, $depth + 200, 5, 9)->stretched(3.0, 1.0),
        );
        $at = [$chance->whole(0, 100), $chance->whole(0, 199)];
        $near = $this->kept(
            "near $w $depth",
            static fn (): Picture => Picture::coordinates($w, $depth)->band(1)->times(1 / $depth)->power(1.3),
        );
        $wave = $swell->crop($at[0], $at[1], $w, $depth)->plus(
            $ripple->crop($at[1] % 100, $at[0], $w, $depth)->times(0.6),
        )->multiply($near->times(1.0, 0.1))->settled();
        $move = $wave->times(24)->join($wave->times(95));
        $mirror = $mirror->mirrored(80, 160)->displaced(
            Picture::coordinates($w, $depth)->linear([1, 1], [80, 160])->plus($move),
        );
        $tint = 1 - 0.35 * $night;
        $mirror = $mirror->linear(
            [0.62, 0.68, 0.76],
            [2, 5 + 4 * $tint, 10 + 8 * $tint],
        )->plus($wave->times(9 * $tint + 3));

        $water = $this->enlarged($mirror);

        return Picture::plain($w * $this->scale, $h * $this->scale, 0, 0, 0)
            ->inserted($above, 0, 0)->inserted($water, 0, $horizon * $this->scale);
    }

    private function shore(int $w, int $horizon, float $night, int $view): Picture
    {
        $step = round($night * 12) / 12;

        $key = "shore $w $horizon $view $step";

        return $this->kept($key, function () use ($w, $horizon, $step, $view): Picture {
            $chance = new Chance("shore $view");
            $mix = static fn (array $a, array $b): string => self::mixed($a, $b, $step);
            $sky = \sprintf(
                '<defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="%s"/><stop '
                    .'offset=".55" stop-color="%s"/><stop offset=".86" stop-color="%s"/><stop offset="1" '
                    .'stop-color="%s"/></linearGradient></defs><rect width="100%%" height="100%%" fill="url(#s)"/>',
                $mix([58, 84, 128], [6, 10, 24]), $mix([128, 118, 146], [13, 20, 42]),
                $mix([232, 150, 104], [30, 36, 62]), $mix([248, 196, 132], [44, 44, 66]),
            );
            $hills = '';
            foreach ([
                [0.62, 0.16, [92, 84, 112], [16, 20, 36]],
                [0.8, 0.1, [48, 48, 66], [8, 10, 18]],
            ] as [$base, $height, $dusk, $dark]) {
                $points = "0,$horizon ";
                $phase = $chance->between(0, 6);
                for ($x = 0; $x <= $w; $x += 12) {
                    $ridge = sin($x / $w * 5 + $phase) * 0.5
                        + sin($x / $w * 13 + $phase * 2) * 0.22
                        + sin($x / $w * 37 + $phase) * 0.06;
                    $y = $horizon * ($base - $height * $ridge);
                    $points .= \sprintf('%d,%.1f ', $x, $y);
                }
                $hills .= \sprintf('<polygon points="%s %d,%d" fill="%s"/>', $points, $w, $horizon, $mix($dusk, $dark));
            }
            // the town: gables along the quay, windows lit one by one as it grows dark
            for ($x = $chance->whole(-30, 0); $x < $w;) {
                $width = $chance->whole(26, 62) * $w / 1440;
                $tall = $chance->between(0.07, 0.17) * $horizon;
                $top = $horizon - $tall;
                $tone = $chance->whole(-10, 10);
                $hills .= \sprintf(
                    '<path d="M%1$.1f %2$d V%3$.1f L%4$.1f %5$.1f L%6$.1f %3$.1f V%2$d Z" fill="%7$s"/>',
                    $x,
                    $horizon,
                    $top,
                    $x + $width / 2,
                    $top - $tall * 0.35,
                    $x + $width,
                    $mix([66 + $tone, 58 + $tone, 70 + $tone], [13, 13, 20]),
                );
                for ($n = $chance->whole(1, 5); $n > 0; --$n) {
                    $lit = $chance->happens(0.25 + 0.6 * $step);
                    $hills .= \sprintf(
                        '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="%s" opacity="%.2f"/>',
                        $x + $chance->between(0.1, 0.75) * $width,
                        $top + $chance->between(0.1, 0.8) * $tall,
                        4.2 * $w / 1440,
                        6 * $w / 1440,
                        $lit ? $chance->one(['#ffd27d', '#ffbf66', '#ffe2a8']) : '#241f2a',
                        $lit ? 0.55 + 0.4 * $step : 0.5,
                    );
                }
                $x += $width + $chance->between(-3, 9);
            }
            $clouds = Picture::perlin(intdiv($w, 3), $horizon, 60, 40 + $view)->sized($w, $horizon);
            $air = Picture::svg($w, $horizon, $sky)->colours()->plus($clouds->times(26 * (1.15 - $step)));
            // the town lies far off: its edges are soft
            $far = $air->finished()->under(Picture::svg($w, $horizon, $hills))->finished();

            return $this->enlarged($far);
        });
    }

    /** @return array{string, string} SVG of the hulls, and of their lights alone */
    private function boats(int $w, int $horizon, string $subject, Chance $chance, float $night): array
    {
        $hulls = $lights = '';
        $count = 'boat' === $subject ? $chance->whole(1, 2) : $chance->whole(3, 7);
        for ($n = 0; $n < $count; ++$n) {
            $size = 'boat' === $subject ? $chance->between(0.3, 0.5) : $chance->between(0.07, 0.2);
            $length = $size * $w;
            $x = $chance->between(0.02, 0.96) * $w - $length / 2;
            $y = $horizon - 1;
            $mast = $length * $chance->between(0.55, 0.95);
            $hulls .= \sprintf(
                '<path d="M%.1f %.1f Q%.1f %.1f %.1f %.1f L%.1f %.1f L%.1f %.1f Z" fill="#0b0d14"/>',
                $x,
                $y - $length * 0.13,
                $x + $length * 0.1,
                $y,
                $x + $length * 0.2,
                $y + 1,
                $x + $length * 0.86,
                $y + 1,
                $x + $length,
                $y - $length * 0.1,
            );
            $hulls .= \sprintf(
                '<path d="M%.1f %.1f V%.1f" stroke="#11131c" stroke-width="%.1f"/>',
                $x + $length * 0.52,
                $y,
                $y - $mast,
                max(1.5, $length / 90),
            );
            $hulls .= \sprintf(
                '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="#171a26"/>',
                $x + $length * 0.22,
                $y - $length * 0.17,
                $length * 0.2,
                $length * 0.08,
            );
            $glow = 1 + min(4.2, $length / 110);
            foreach ([[0.0, 0.13], [1.0, 0.1]] as [$end, $height]) {
                $steps = max(5, (int) min(17, $length / 26));
                for ($i = 1; $i <= $steps; ++$i) {
                    $t = $i / $steps;
                    $px = $x + $length * ($end + (0.52 - $end) * $t);
                    $py = $y - $length * $height - ($mast - $length * $height) * $t + sin(\M_PI * $t) * $length * 0.1;
                    $colour = $chance->one(['#ffcf7a', '#ff9d4d', '#ffe0a0', '#ff7f5a', '#ffd9b0']);
                    $lights .= \sprintf(
                        '<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="%s"/>',
                        $px,
                        $py,
                        $glow,
                        $glow * 1.25,
                        $colour,
                    );
                }
            }
        }
        for ($n = (int) (10 + 14 * $night); $n > 0; --$n) { // lamps along the quay
            $lights .= \sprintf(
                '<circle cx="%.1f" cy="%.1f" r="%.1f" fill="%s"/>',
                $chance->between(0, 1) * $w,
                $horizon - $chance->between(4, 16),
                $chance->between(1.2, 2.6),
                $chance->one(['#ffe8c0', '#ffc878', '#cfe4ff']),
            );
        }

        return [$hulls, $lights];
    }

    /** One paper lantern near by, the harbour out of focus behind it. */
    private function lantern(int $w, int $h, float $night, Chance $chance): Picture
    {
        $back = $this->water(
            $w,
            $h,
            'wide',
            $night,
            $chance->whole(0, 4),
            $chance,
        );
        $back = $this->enlarged($this->small($back)->finished()->blur(16)->times(0.85));
        $discs = '';
        for ($n = $chance->whole(22, 46); $n > 0; --$n) {
            $r = $chance->between(0.012, 0.05) * $w;
            $colour = $chance->one(['255,190,96', '255,150,80', '255,220,160', '250,120,90', '170,200,255']);
            $discs .= \sprintf(
                '<circle cx="%1$.1f" cy="%2$.1f" r="%3$.1f" fill="rgba(%4$s,%5$.2f)" stroke="rgba(%4$s,%6$.2f)" '
                    .'stroke-width="%7$.1f"/>',
                $chance->between(0, 1) * $w,
                ($chance->happens(0.7) ? $chance->between(0.25, 0.62) : $chance->between(0.6, 1)) * $h,
                $r,
                $colour,
                $chance->between(0.1, 0.42),
                $chance->between(0.2, 0.5),
                $r * 0.09,
            );
        }
        $picture = $back->under($this->blurred($this->svg($w, $h, $discs), 1.4));
        $lantern = '';
        for ($n = $chance->whole(1, 3); $n > 0; --$n) {
            $cx = $chance->between(0.2, 0.8) * $w;
            $cy = $chance->between(0.3, 0.62) * $h;
            $r = $chance->between(0.13, 0.23) * $h;
            [$core, $edge] = $chance->one(
                [['#f2c878', '#b8561a'], ['#eba28a', '#96281f'], ['#f0d79a', '#b07a1e'], ['#dcb4dc', '#6d3470']],
            );
            $id = 'l'.$n;
            $lantern .= \sprintf(
                '<defs><radialGradient id="%s" cx=".5" cy=".58" r=".62"><stop offset="0" stop-color="%s"/><stop '
                    .'offset=".35" stop-color="%s"/><stop offset="1" stop-color="%s"/></radialGradient></defs>',
                $id,
                $core,
                $core,
                $edge,
            );
            $lantern .= \sprintf(
                '<path d="M%.1f 0 V%.1f" stroke="#0c0b10" stroke-width="3"/><rect x="%.1f" y="%.1f" width="%.1f" '
                    .'height="%.1f" fill="#1a1410"/>',
                $cx,
                $cy - $r * 1.15,
                $cx - $r * 0.34,
                $cy - $r * 1.2,
                $r * 0.68,
                $r * 0.14,
            );
            $lantern .= \sprintf(
                '<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="url(#%s)"/>',
                $cx,
                $cy,
                $r,
                $r * 1.12,
                $id,
            );
            for ($k = -4; $k <= 4; ++$k) {
                $yy = $cy + $k * $r * 0.235;
                $half = $r * sqrt(max(0, 1 - (($yy - $cy) / ($r * 1.12)) ** 2));
                $lantern .= \sprintf(
                    '<path d="M%.1f %.1f Q%.1f %.1f %.1f %.1f" fill="none" stroke="%s" stroke-opacity=".42" '
                        .'stroke-width="%.1f"/>',
                    $cx - $half,
                    $yy,
                    $cx,
                    $yy + $r * 0.09,
                    $cx + $half,
                    $yy,
                    $edge,
                    $r * 0.018,
                );
            }
            $lantern .= \sprintf(
                '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="#1a1410"/>',
                $cx - $r * 0.3,
                $cy + $r * 1.05,
                $r * 0.6,
                $r * 0.1,
            );
        }
        $sharp = $this->svg($w, $h, $lantern);

        return $picture->plus($this->halo($sharp->light()->colours(), [[72, 0.5]]))->finished()->under($sharp);
    }

    /** SVG of people near by, from behind. */
    private function crowd(int $w, int $h, Chance $chance): string
    {
        $people = '';
        for ($x = -0.02 * $w; $x < $w * 1.02; $x += $chance->between(0.05, 0.12) * $w) {
            $head = $chance->between(0.026, 0.036) * $w;
            $y = $h * $chance->between(0.8, 0.9);
            $people .= \sprintf(
                '<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="#08080d"/>',
                $x,
                $y,
                $head * 0.8,
                $head,
            );
            $people .= \sprintf(
                '<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="#0a090e"/>',
                $x + $chance->between(-0.2, 0.2) * $head,
                $y - $head * 0.3,
                $head * $chance->between(0.8, 1.05),
                $head * $chance->between(0.75, 0.95),
            );
            $people .= \sprintf(
                '<path d="M%.1f %d C%.1f %.1f %.1f %.1f %.1f %.1f S%.1f %.1f %.1f %d Z" fill="#08080d"/>',
                $x - $head * 2.3,
                $h,
                $x - $head * 2.2,
                $y + $head * 1.1,
                $x - $head * 0.6,
                $y + $head * 1.15,
                $x,
                $y + $head * 0.9,
                $x + $head * 2.2,
                $y + $head * 1.1,
                $x + $head * 2.3,
                $h,
            );
            if ($chance->happens(0.22)) { // a phone held up
                $people .= \sprintf(
                    '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="3" fill="#a9c4e8"/>',
                    $x + $head * 1.3,
                    $y - $head * 1.6,
                    $head * 0.62,
                    $head * 1.05,
                );
            }
        }

        return $people;
    }

    /** The light of falling drops, to be added; one band. */
    private function rain(int $w, int $h, Chance $chance): Picture
    {
        $streaks = '';
        for ($n = 0; $n < 420; ++$n) {
            $x = $chance->between(-0.1, 1.05) * $w;
            $y = $chance->between(-0.1, 1) * $h;
            $l = $chance->between(14, 74);
            $streaks .= \sprintf(
                '<path d="M%.1f %.1f l%.1f %.1f" stroke="#dfe8f5" stroke-opacity="%.2f" stroke-width="%.1f"/>',
                $x,
                $y,
                $l * 0.2,
                $l,
                $chance->between(0.05, 0.32),
                $chance->between(0.8, 2.1),
            );
        }

        return $this->enlarged(Picture::svg($w, $h, $streaks)->light()->band(0)->blur(0.5));
    }
}
