<?php

declare(strict_types=1);

namespace Velvet\Demo\Scene;

use Velvet\Demo\Chance;
use Velvet\Demo\Picture;

/**
 * What a scene needs to be photographed: a size, a seed, and the lens's shortcomings put on at the end. Scenes are
 * composed in units, of which a frame is 1200 long; what has edges is drawn at the scale of the picture, what is soft
 * (waves, clouds, glow, reflections) at one pixel a unit and enlarged smoothly.
 */
abstract class Scene
{
    /** @param positive-int $scale pixels a unit */
    public function __construct(protected readonly int $scale)
    {
    }

    /** Edge of the square of grain that frames are covered with. */
    private const GRAIN = 1024;

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

    /** Drawn from SVG; width and height in units. */
    protected function svg(int $w, int $h, string $body): Picture
    {
        return Picture::svg($w, $h, $body, $this->scale);
    }

    /** One pixel for each unit. */
    protected function small(Picture $picture): Picture
    {
        return $picture->shrunk($this->scale);
    }

    /** What is soft, drawn at one pixel a unit, at the scale of the picture. */
    protected function enlarged(Picture $soft): Picture
    {
        return $soft->finished()->zoomed($this->scale);
    }

    /** The picture at exactly this size: its last rows and columns repeated where it is a little too small. */
    private static function fitted(Picture $picture, int $w, int $h): Picture
    {
        return $picture->crop(0, 0, min($w, $picture->width()), min($h, $picture->height()))->embedded(0, 0, $w, $h);
    }

    /** Blurred by so many units. */
    protected function blurred(Picture $picture, float $units): Picture
    {
        return $picture->blur($units * $this->scale);
    }

    /**
     * The light around what is bright, at the size of the picture.
     *
     * @param list<array{float, float}> $parts by how many units it is blurred, and how strong it is then
     */
    protected function halo(Picture $light, array $parts): Picture
    {
        $small = $light->shrunk(4 * $this->scale);
        $sum = null;
        foreach ($parts as [$units, $times]) {
            $part = $small->blur($units / 4)->times($times);
            $sum = $sum?->plus($part) ?? $part;
        }
        $whole = ($sum ?? $small)->finished()->zoomed(4 * $this->scale);

        return self::fitted($whole, $light->width(), $light->height());
    }

    /** With a glow around what is bright in it. */
    protected function glowing(Picture $picture, float $glow): Picture
    {
        $picture = $picture->finished();
        $bright = $picture->shrunk(4 * $this->scale)->times(1.0, -110)->finished()->blur(7)->times(3.0 * $glow);
        $whole = $bright->finished()->zoomed(4 * $this->scale);

        return $picture->plus(self::fitted($whole, $picture->width(), $picture->height()));
    }

    /** With light that falls towards the corners. */
    protected function vignetted(Picture $picture): Picture
    {
        $w = $picture->width();
        $h = $picture->height();

        return $picture->multiply($this->kept("vignette $w $h", static fn (): Picture => Picture::svg(
            $w,
            $h,
            '<defs><radialGradient id="v" cx=".5" cy=".5" r=".72"><stop offset=".45" stop-color="#fff"/><stop '
                .'offset="1" stop-color="#8f8f8f"/></radialGradient></defs><rect width="100%" height="100%" '
                .'fill="url(#v)"/>',
        )->band(0)->times(1 / 255)))->finished();
    }

    /** Blur, exposure and grain. */
    protected function photographed(
        Picture $picture,
        Chance $chance,
        float $grain,
        float $blur = 0.0,
        float $stops = 0.0,
    ): Picture {
        $w = $picture->width();
        $h = $picture->height();
        if ($blur > 0) {
            $picture = $this->blurred($picture->finished(), $blur);
        }
        if (0.0 !== $stops) {
            $picture = $picture->times(2 ** ($stops * 0.62));
        }
        // grain is stronger in luminance than in colour, and of one pixel as a sensor's is
        $fine = $this->kept(
            \sprintf('grain %.1f', $grain),
            static fn (): Picture => Picture::noise(self::GRAIN, self::GRAIN, $grain, 5)->whole(),
        )->tiled($w, $h)->crop($chance->whole(0, self::GRAIN), $chance->whole(0, self::GRAIN), $w, $h);

        return $picture->plus($fine)->finished();
    }
}
