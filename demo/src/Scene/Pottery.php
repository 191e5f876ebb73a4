<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Chance;
use Velvet\Demo\Picture;

/** The kiln opening at Saltmarsh Pottery: the kiln, then pots on a table by a window. */
final class Pottery extends Scene
{
    private const POTS = [
        ['jar', [62, 110, 112], [150, 96, 66]], ['vase', [188, 178, 150], [140, 88, 60]],
        ['bowl', [46, 72, 118], [170, 120, 84]],
        ['bottle', [120, 50, 44], [92, 66, 54]], ['cup', [206, 196, 178], [158, 104, 72]],
        ['bowl', [150, 150, 96], [128, 82, 58]],
        ['vase', [40, 44, 50], [120, 78, 58]], ['cup', [70, 116, 90], [166, 112, 76]],
    ];

    /**
     * @param string $subject one, three, row, detail, kiln, shoes or black
     * @param string $base    frames of one base show the same table
     */
    public function frame(
        int $w,
        int $h,
        string $subject,
        string $base,
        string $seed,
        float $stops = 0.0,
        float $blur = 0.0,
    ): Picture {
        $chance = new Chance($seed);
        if ('black' === $subject) {
            $black = Picture::plain($w * $this->scale, $h * $this->scale, 3, 2, 4);

            return $this->photographed($black, $chance, 2.2);
        }
        $bw = (int) ($w * 1.06);
        $bh = (int) ($h * 1.06);
        $s = $this->scale;
        $whole = $this->kept("base $bw $base", fn (): Picture => $this->vignetted(match ($subject) {
            'kiln' => $this->glowing($this->kiln($bw, $bh, new Chance($base)), 0.14),
            'shoes' => $this->shoes($bw, $bh),
            default => $this->table($bw, $bh, $subject, new Chance($base)),
        }));
        $at = [$s * $chance->whole(0, $bw - $w), $s * $chance->whole(0, $bh - $h)];
        $picture = $whole->crop($at[0], $at[1], $s * $w, $s * $h);

        return $this->photographed($picture, $chance, 'kiln' === $subject ? 5.5 : 2.6, $blur, $stops);
    }

    private function table(int $w, int $h, string $subject, Chance $chance): Picture
    {
        $edge = (int) ($h * $chance->between(0.6, 0.68));
        $plaster = '<defs><linearGradient id="w" x1="0" y1="0" x2="1" y2=".35"><stop offset="0" stop-color="#e9e2d4"/>'
            .'<stop offset=".45" stop-color="#c3b9a8"/><stop offset="1" stop-color="#6f675c"/></linearGradient></defs>'
            .'<rect width="100%" height="100%" fill="url(#w)"/>'
            .'<g fill="#fff" opacity=".2"><path d="M60 0 L430 0 L760 900 L380 900Z"/>'
            .'<path d="M500 0 L640 0 L980 900 L830 900Z"/></g>';
        $wall = $this->kept(
            "wall $w $h",
            fn (): Picture => $this->enlarged(
                Picture::svg($w, $h, $plaster)->colours()->finished()->blur(22)
                    ->plus(Picture::perlin($w, $h, 38, 3)->times(5)),
            ),
        );
        $grain = $this->kept("wood $w $h", function () use ($w, $h): Picture {
            $lines = Picture::perlin(intdiv($w, 12) + 2, $h, 9, 21)->sized($w, $h);
            $knots = Picture::perlin(intdiv($w, 4) + 2, $h, 60, 22)->sized($w, $h);
            // fibres as thin as a pixel, so that the table holds from near by
            $fibres = Picture::noise(intdiv($w, 30), $h * $this->scale, 1.0, 23)->settled()
                ->sized($w * $this->scale, $h * $this->scale);

            return $this->enlarged(
                Picture::plain($w, $h, 138, 100, 66)->plus($lines->times(20))->plus($knots->times(16)),
            )->plus($fibres->times(5))->finished();
        });
        $light = $this->svg(
            $w,
            $h,
            '<defs><linearGradient id="l" x1="0" x2="1"><stop offset="0" stop-color="#fff"/><stop offset="1" '
                .'stop-color="#6a6a6a"/></linearGradient></defs><rect width="100%" height="100%" fill="url(#l)"/>',
        )->band(0)->times(1 / 235);
        $s = $this->scale;
        $table = $grain->multiply($light)->crop(0, $s * $edge, $s * $w, $s * ($h - $edge));
        $picture = $wall->inserted($table, 0, $s * $edge);
        $band = '<rect y="20" width="100%" height="14" fill="#2c1d12" opacity=".5"/>';
        $picture = $picture->finished()
            ->under($this->blurred($this->svg($w, 54, $band), 6), 0, $s * ($edge - 27))->finished();
        if ('detail' !== $subject && $chance->happens(0.75)) { // something out of focus behind
            foreach ([$chance->between(0.02, 0.3), $chance->between(0.6, 0.9)] as $x) {
                $picture = $this->placed($picture, $chance, $x, $edge + 14, $chance->between(0.42, 0.6) * $h, 7);
            }
        }
        foreach (match ($subject) {
            'one' => [[$chance->between(0.34, 0.52), 0.66]],
            'three' => [[0.12, 0.46], [0.42, 0.56], [0.68, 0.42]],
            'detail' => [[$chance->between(-0.02, 0.2), 1.5]],
            default => [[0.02, 0.36], [0.2, 0.38], [0.38, 0.36], [0.57, 0.4], [0.76, 0.37]],
        } as [$x, $size]) {
            $picture = $this->placed(
                $picture,
                $chance,
                $x + $chance->between(-0.015, 0.015),
                $edge + (int) ($h * ('detail' === $subject ? 0.42 : $chance->between(0.1, 0.2))),
                $size * $h,
                0,
            );
        }

        return $picture->finished();
    }

    private function placed(Picture $picture, Chance $chance, float $x, int $foot, float $size, float $blur): Picture
    {
        $s = $this->scale;
        $w = intdiv($picture->width(), $s);
        $n = $chance->whole(0, \count(self::POTS) - 1);
        [$shape, $glaze, $clay] = self::POTS[$n];
        $pot = $this->kept("pot $n", static fn (): Picture => Pot::drawn($shape, $glaze, $clay, $n + 11));
        $wide = (int) ($size * $pot->width() / $pot->height());
        $margin = (int) (3 * $s * $blur); // or what is blurred would end at the edge of its own picture
        $pot = $pot->sized($s * $wide, $s * (int) $size)
            ->embedded($margin, $margin, $s * $wide + 2 * $margin, $s * (int) $size + 2 * $margin)->finished();
        $pot = $this->blurred($pot, $blur);
        $left = (int) ($x * $w);
        [$room, $tall] = [(int) ($wide * 1.7), (int) ($size * 0.3) + 40];
        $shadow = Picture::svg( // soft
            $room,
            $tall,
            \sprintf(
                '<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="#140c06" opacity=".62"/><ellipse cx="%.1f" '
                    .'cy="%.1f" rx="%.1f" ry="%.1f" fill="#140c06" opacity=".4"/>',
                $wide * 0.72,
                $tall / 2 - $size * 0.015,
                $wide * 0.32,
                $size * 0.035,
                $wide * 1.04,
                $tall / 2 - $size * 0.01,
                $wide * 0.5,
                $size * 0.06,
            ),
        )->blur(9);

        return $picture->under(
            $this->enlarged($shadow),
            $s * ($left - (int) ($wide * 0.2)),
            $s * ($foot - intdiv($tall, 2)),
        )->finished()->under($pot, $s * $left - $margin, $s * ($foot - (int) $size) - $margin)->finished();
    }

    private function kiln(int $w, int $h, Chance $chance): Picture
    {
        $bricks = '';
        $bh = $h / 13;
        for ($row = 0; $row < 14; ++$row) {
            for ($x = -($row % 2) * $bh * 1.2; $x < $w; $x += $bh * 2.4) {
                $tone = $chance->whole(-16, 16);
                $bricks .= \sprintf(
                    '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="5" fill="rgb(%d,%d,%d)"/>',
                    $x + 2,
                    $row * $bh + 2,
                    $bh * 2.4 - 5,
                    $bh - 5,
                    96 + $tone,
                    62 + $tone,
                    48 + $tone,
                );
            }
        }
        [$cx, $cy, $r] = [$w * $chance->between(0.42, 0.58), $h * 0.6, $h * $chance->between(0.26, 0.34)];
        $door = \sprintf(
            '<defs><radialGradient id="f" cx=".5" cy=".62" r=".6"><stop offset="0" stop-color="#ffdf98"/><stop '
                .'offset=".4" stop-color="#e88c30"/><stop offset=".8" stop-color="#d2501a"/><stop offset="1" '
                .'stop-color="#6b1d0a"/></radialGradient></defs><path d="M%.1f %.1f V%.1f A%.1f %.1f 0 0 1 %.1f %.1f '
                .'V%.1f Z" fill="url(#f)"/>',
            $cx - $r,
            $h * 0.95,
            $cy - $r * 0.2,
            $r,
            $r,
            $cx + $r,
            $cy - $r * 0.2,
            $h * 0.95,
        );
        for ($n = 0; $n < 5; ++$n) { // pots standing in the heat
            $px = $cx + ($n - 2) * $r * 0.37;
            $ph = $r * $chance->between(0.4, 0.8);
            $door .= \sprintf(
                '<path d="M%1$.1f %2$.1f C%3$.1f %4$.1f %5$.1f %4$.1f %6$.1f %2$.1f Z" fill="%7$s"/>',
                $px - $r * 0.16,
                $h * 0.93,
                $px - $r * 0.2,
                $h * 0.93 - $ph * 1.2,
                $px + $r * 0.2,
                $px + $r * 0.16,
                $chance->one(['#e3722a', '#c95a1e', '#f08a3c']),
            );
        }
        $s = $this->scale;
        $rough = $this->enlarged(Picture::perlin($w, $h, 12, 31)->times(10, 128))->times(1, -128);
        $wall = Picture::plain($s * $w, $s * $h, 44, 34, 30)->under($this->svg($w, $h, $bricks))->plus($rough);
        $glow = Picture::svg(
            $w,
            $h,
            \sprintf(
                '<defs><radialGradient id="g" gradientUnits="userSpaceOnUse" cx="%.1f" cy="%.1f" r="%.1f"><stop '
                    .'offset="0" stop-color="#fff"/><stop offset=".5" stop-color="#8a6a50"/><stop offset="1" '
                    .'stop-color="#17120f"/></radialGradient></defs><rect width="100%%" height="100%%" '
                    .'fill="url(#g)"/>',
                $cx,
                $cy + $r * 0.3,
                $r * 3,
            ),
        )->colours();
        $fire = $this->blurred($this->svg($w, $h, $door), 1.6);

        return $wall->multiply($this->enlarged($glow)->times(1 / 255))->finished()->under($fire)
            ->plus($this->halo($fire->light()->colours(), [[88, 0.22]]));
    }

    /** What one finds between the keepers: one's own shoes on the cobbles. */
    private function shoes(int $w, int $h): Picture
    {
        $s = $this->scale;
        $stones = Picture::worley($s * $w, $s * $h, 92 * $s, 4)->times(-1.15 / $s, 112)
            ->plus(Picture::perlin($s * $w, $s * $h, 7, 2)->times(15));
        $ground = $stones->join($stones)->join($stones)->linear([0.96, 0.94, 0.9], [6, 5, 6])->finished();
        $shoe = static fn (float $x, float $tilt): string => \sprintf(
            '<g transform="translate(%.0f %.0f) rotate(%.1f) scale(%.2f)"><defs><linearGradient id="t" x1="0" '
                .'x2="1"><stop offset="0" stop-color="#5e3b26"/><stop offset=".35" stop-color="#8a5a3a"/><stop '
                .'offset="1" stop-color="#33200f"/></linearGradient></defs><path d="M-70 230 C-95 60 -85 -120 -40 '
                .'-205 C-20 -240 30 -240 48 -200 C86 -110 90 60 70 230 Z" fill="url(#t)"/><path d="M-46 215 C-56 120 '
                .'-52 40 -30 0 C0 -24 20 -20 34 4 C54 60 52 130 46 215Z" fill="#1c1512"/><g stroke="#d8c7a8" '
                .'stroke-width="7" fill="none"><path d="M-36 -20 L38 -34"/><path d="M-40 -58 L42 -72"/><path d="M-38 '
                .'-96 L38 -110"/></g></g>',
            $x,
            $h * 0.62,
            $tilt,
            $h / 780,
        );

        $shadow = '<ellipse cx="50%" cy="66%" rx="30%" ry="34%" fill="#000" opacity=".45"/>';
        $shoes = $this->svg($w, $h, $shoe($w * 0.38, -9).$shoe($w * 0.61, 8));

        return $this->blurred(
            $ground->under($this->enlarged(Picture::svg($w, $h, $shadow)->blur(26)))->finished()
                ->under($shoes)->finished(),
            2.4,
        );
    }
}
