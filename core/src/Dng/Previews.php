<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/** The pictures that a DNG shows without being developed: one of medium size, and the camera's own at its full one. */
final readonly class Previews
{
    /** Long edges, in pixels, of what is called medium, and of one that is made. */
    private const SMALLEST = 640;
    private const LARGEST = 2048;
    private const MADE = 1280;
    private const QUALITY = 84;
    /** More pixels than a picture of a camera has: not decoded. */
    private const MOST_PIXELS = 200_000_000;

    /**
     * @param string|null $medium a JPEG file; null where there is none at all
     * @param string|null $full   another, larger one
     */
    private function __construct(public ?string $medium, public ?string $full)
    {
    }

    /** @param list<string> $jpegs embedded JPEG files, the largest first */
    public static function of(array $jpegs): self
    {
        $jpegs = array_values(array_filter($jpegs, static fn (string $jpeg): bool => self::longEdge($jpeg) > 0));
        $full = $jpegs[0] ?? null;
        foreach ($jpegs as $jpeg) {
            $edge = self::longEdge($jpeg);
            if ($edge >= self::SMALLEST && $edge <= self::LARGEST) {
                return new self($jpeg, $jpeg === $full ? null : $full);
            }
        }
        // a thumbnail will do where nothing else is there, and a picture that is small itself is its own
        $medium = null !== $full && self::longEdge($full) > self::LARGEST ? self::smaller($full) : $full;

        return new self($medium ?? $full, $medium === $full || null === $medium ? null : $full);
    }

    private static function longEdge(string $jpeg): int
    {
        $size = @getimagesizefromstring($jpeg);

        return false === $size ? 0 : max($size[0], $size[1]);
    }

    /** Null where it cannot be decoded. */
    private static function smaller(string $jpeg): ?string
    {
        $size = @getimagesizefromstring($jpeg);
        if (false === $size || $size[0] * $size[1] > self::MOST_PIXELS || !\function_exists('imagecreatefromstring')) {
            return null;
        }
        $picture = @imagecreatefromstring($jpeg);
        $scale = self::MADE / max($size[0], $size[1]);
        $smaller = false === $picture
            ? false
            : imagescale(
                $picture,
                max(1, (int) round($size[0] * $scale)),
                max(1, (int) round($size[1] * $scale)),
                \IMG_BICUBIC,
            );
        if (false === $smaller) {
            return null;
        }
        ob_start();
        imagejpeg($smaller, null, self::QUALITY);
        $made = ob_get_clean();

        return false === $made || '' === $made ? null : $made;
    }
}
