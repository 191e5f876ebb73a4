<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Chance;
use Velvet\Demo\Picture;

/** The tide clock: one view of a tide pole from a tripod, while the sun comes up and the water with it. */
final class TideClock extends Scene
{
    private const POLE_FROM = 0.23;
    private const POLE_TO = 0.41;

    /** @param float $t from 0, before sunrise, to 1 */
    public function frame(int $w, int $h, float $t, string $seed): Picture
    {
        $chance = new Chance($seed);
        $horizon = (int) ($h * 0.46);
        $mix = static fn (array $a, array $b): string => self::mixed($a, $b, $t);
        $sunX = $w * (0.62 + 0.08 * $t);
        $sunY = $horizon * (1.04 - 0.55 * $t);
        $sky = \sprintf(
            '<defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="%s"/><stop '
                .'offset=".6" stop-color="%s"/><stop offset="1" stop-color="%s"/></linearGradient><radialGradient '
                .'id="g"><stop offset="0" stop-color="#fff7e0"/><stop offset=".12" stop-color="#ffe6ae" '
                .'stop-opacity=".9"/><stop offset="1" stop-color="#ffb66a" '
                .'stop-opacity="0"/></radialGradient></defs><rect width="100%%" height="100%%" fill="url(#s)"/>',
            $mix([44, 58, 96], [112, 158, 208]),
            $mix([128, 110, 140], [168, 190, 214]),
            $mix([228, 148, 116], [236, 212, 180]),
        );
        $sky .= \sprintf(
            '<circle cx="%.1f" cy="%.1f" r="%.1f" fill="url(#g)"/>',
            $sunX,
            $sunY,
            $w * (0.13 + 0.04 * $t),
        );
        $sky .= \sprintf(
            '<path d="M0 %1$d V%2$.1f C%3$.1f %4$.1f %5$.1f %6$.1f %7$.1f %1$d Z" fill="%8$s"/>',
            $horizon,
            $horizon * 0.72,
            $w * 0.14,
            $horizon * 0.7,
            $w * 0.24,
            $horizon * 0.88,
            $w * 0.4,
            $mix([40, 40, 58], [74, 84, 92]),
        );
        $clouds = $this->kept(
            "clouds $w",
            static fn (): Picture => Picture::perlin(intdiv($w, 2), $horizon, 54, 77)->stretched(4.0, 1.0),
        );
        $air = $clouds->crop((int) (($clouds->width() - $w) * $t), 0, $w, $horizon)->times(24);
        $above = Picture::svg($w, $horizon, $sky)->colours()->plus($air)->finished();
        $depth = $h - $horizon;
        $mirror = $above->flipped(true)->sized($w, $depth);
        $swell = $this->kept(
            "swell $w $depth",
            static fn (): Picture => Picture::perlin(intdiv($w, 6) + 60, $depth + 400, 15, 17)->stretched(6.0, 1.0),
        );
        $near = $this->kept(
            "near $w $depth",
            static fn (): Picture => Picture::coordinates($w, $depth)->band(1)
                ->times(1 / $depth)->power(1.2)->times(1, 0.06),
        );
        $wave = $swell->crop($chance->whole(0, 300), $chance->whole(0, 390), $w, $depth)->multiply($near)->settled();
        $mirror = $mirror->mirrored(80, 160)->displaced(
            Picture::coordinates($w, $depth)->linear([1, 1], [80, 160])->plus(
                $wave->times(20)->join($wave->times(110)),
            ),
        );
        $water = $mirror->linear([0.66, 0.72, 0.78], [2, 8, 14])->plus($wave->times(12))->finished();
        $s = $this->scale;
        $picture = $this->enlarged($this->vignetted(
            Picture::plain($w, $h, 0, 0, 0)->inserted($above, 0, 0)->inserted($water, 0, $horizon),
        ));

        return $this->photographed(
            $picture->under($this->pole($w, $h, $t, $mix), $s * (int) ($w * self::POLE_FROM), 0)->finished(),
            $chance,
            3.0 - 1.2 * $t,
            0,
            0.075 * sin($t * 9),
        );
    }

    /** @param \Closure(array{int, int, int}, array{int, int, int}): string $mix */
    private function pole(int $w, int $h, float $t, \Closure $mix): Picture
    {
        $x = $w * 0.3;
        $wide = $w * 0.034;
        $top = $h * 0.09;
        $line = $h * (0.86 - 0.2 * $t); // where the water stands at the pole
        $marks = \sprintf(
            '<defs><linearGradient id="p" x1="0" x2="1"><stop offset="0" stop-color="%s"/><stop offset=".6" '
                .'stop-color="%s"/><stop offset="1" stop-color="%s"/></linearGradient></defs><rect x="%.1f" y="%.1f" '
                .'width="%.1f" height="%.1f" fill="url(#p)"/>',
            $mix([38, 32, 36], [92, 82, 72]),
            $mix([74, 62, 62], [178, 160, 136]),
            $mix([104, 78, 70], [214, 192, 160]),
            $x,
            $top,
            $wide,
            $line - $top,
        );
        for ($n = 0, $y = $top + $h * 0.2; $y < $line - 4; ++$n, $y += $h * 0.034) {
            $marks .= \sprintf(
                '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="%s"/>',
                $x + $wide * 0.12,
                $y,
                $wide * (0 === $n % 5 ? 0.76 : 0.4),
                $h * 0.008,
                $mix([150, 140, 140], [240, 236, 226]),
            );
        }
        // the part that was wet at low water
        $marks .= \sprintf(
            '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="#1d2018" opacity=".55"/>',
            $x,
            $h * 0.6,
            $wide,
            max(0, $line - $h * 0.6),
        );
        $cx = $x + $wide / 2;
        $cy = $top + $h * 0.07;
        $r = $h * 0.085;
        $marks .= \sprintf(
            '<circle cx="%.1f" cy="%.1f" r="%.1f" fill="%s" stroke="%s" stroke-width="%.1f"/>',
            $cx,
            $cy,
            $r,
            $mix([140, 132, 136], [244, 238, 222]),
            $mix([34, 30, 36], [60, 52, 46]),
            $r * 0.13,
        );
        for ($n = 0; $n < 12; ++$n) {
            $a = $n * \M_PI / 6;
            $marks .= \sprintf(
                '<path d="M%.1f %.1f L%.1f %.1f" stroke="#2a2527" stroke-width="%.1f"/>',
                $cx + sin($a) * $r * 0.74,
                $cy - cos($a) * $r * 0.74,
                $cx + sin($a) * $r * 0.87,
                $cy - cos($a) * $r * 0.87,
                $r * 0.05,
            );
        }
        foreach ([[$t * 1.2 + 3.6, 0.52, 0.09], [$t * 0.1 + 1.5, 0.4, 0.12]] as [$a, $long, $thick]) {
            $marks .= \sprintf(
                '<path d="M%.1f %.1f L%.1f %.1f" stroke="#5b1f2a" stroke-width="%.1f" stroke-linecap="round"/>',
                $cx,
                $cy,
                $cx + sin($a) * $r * $long * 1.4,
                $cy - cos($a) * $r * $long * 1.4,
                $r * $thick,
            );
        }
        $reflection = \sprintf(
            '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="#0c1016" opacity=".34"/>',
            $x - 1,
            $line,
            $wide + 2,
            $h - $line,
        );

        // only the part of the frame that the pole stands in
        return $this->svg(
            (int) ($w * (self::POLE_TO - self::POLE_FROM)),
            $h,
            \sprintf('<g transform="translate(-%d 0)">%s%s</g>', (int) ($w * self::POLE_FROM), $reflection, $marks),
        );
    }
}
