<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Chance;
use Velvet\Demo\Picture;

/** What a scene needs to be photographed: a size, a seed, and the lens's shortcomings put on at the end. */
abstract class Scene
{
    /** @var array<string, Picture> drawn once and used for many frames */
    private array $kept = [];

    /** @param \Closure(): Picture $draw */
    protected function kept(string $key, \Closure $draw): Picture
    {
        return $this->kept[$key] ??= $draw()->settled();
    }

    /**
     * A colour between two, as SVG writes it.
     *
     * @param array<mixed> $from red, green and blue, 0 to 255
     * @param array<mixed> $to
     * @param float        $share 0 for the one, 1 for the other
     */
    protected static function mixed(array $from, array $to, float $share): string
    {
        $parts = [];
        foreach ($from as $i => $part) {
            $other = $to[$i] ?? null;
            \assert(\is_int($part) && \is_int($other));
            $parts[] = (int) round($part + ($other - $part) * $share);
        }

        return \sprintf('rgb(%s)', implode(',', $parts));
    }

    /** The picture at exactly this size: its last rows and columns repeated where it is a little too small. */
    protected function fitted(Picture $picture, int $w, int $h): Picture
    {
        return $picture->crop(0, 0, min($w, $picture->width()), min($h, $picture->height()))->embedded(0, 0, $w, $h);
    }

    /** Glow around what is bright, falling light at the corners, blur, exposure and grain. */
    protected function photographed(
        Picture $picture,
        Chance $chance,
        float $grain,
        float $blur = 0.0,
        float $stops = 0.0,
        float $glow = 0.12,
    ): Picture {
        $w = $picture->width();
        $h = $picture->height();
        if ($glow > 0) {
            $picture = $picture->finished();
            $small = $picture->stretched(0.25, 0.25)->times(1.0, -110)->finished()->blur(7)->times(3.0 * $glow);
            $picture = $picture->plus($this->fitted($small->finished()->stretched(4.0, 4.0), $w, $h));
        }
        $picture = $picture->multiply(
            $this->kept(
                "vignette $w $h",
                static fn (): Picture => Picture::svg(
                    $w,
                    $h,
                    '<defs><radialGradient id="v" cx=".5" cy=".5" r=".72"><stop offset=".45" '
                        .'stop-color="#fff"/><stop offset="1" stop-color="#8f8f8f"/></radialGradient></defs><rect '
                        .'width="100%" height="100%" fill="url(#v)"/>',
                )->band(0)->times(1 / 255),
            ),
        );
        if ($blur > 0) {
            $picture = $picture->finished()->blur($blur);
        }
        if (0.0 !== $stops) {
            $picture = $picture->times(2 ** ($stops * 0.62));
        }
        // grain is stronger in luminance than in colour
        $fine = $this->kept('grain', static fn (): Picture => Picture::noise(2000, 2000, 1.0, 5));
        $picture = $picture->plus(
            $fine->crop($chance->whole(0, 2000 - $w), $chance->whole(0, 2000 - $h), $w, $h)->times($grain),
        );

        return $picture->finished();
    }
}
