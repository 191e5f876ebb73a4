<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** How a movie or sound plays. */
final readonly class Playing
{
    /**
     * @param float      $seconds         its length
     * @param float|null $framesPerSecond null for sound
     */
    private function __construct(public float $seconds, public ?float $framesPerSecond)
    {
    }

    /**
     * From counts as containers have them; null where they make no sense.
     *
     * @param int|float $length   in units of which `$perSecond` pass in a second
     * @param int       $pictures shown in that time; 0 for sound
     */
    public static function of(int|float $length, int|float $perSecond, int $pictures = 0): ?self
    {
        if ($length <= 0 || $perSecond <= 0) {
            return null;
        }
        $seconds = $length / $perSecond;

        return new self(round($seconds, 3), 0 === $pictures ? null : round($pictures / $seconds, 3));
    }
}
