<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\ShotTime;

/**
 * Corrections of camera clocks, by camera. The camera's own time is kept beside; only order, division and names follow.
 */
final readonly class Clocks
{
    /** Enough for a clock that began again in 1980. */
    public const MOST_SECONDS = 60 * 366 * 86_400;

    /** @param array<array-key, int> $seconds that are added to what each camera says */
    public function __construct(public array $seconds = [])
    {
    }

    /** One camera is corrected by something else. */
    public function with(string $camera, int $seconds): self
    {
        return new self([$camera => $seconds] + $this->seconds);
    }

    public function corrected(?ShotTime $time, string $camera): ?ShotTime
    {
        $seconds = $this->seconds[$camera] ?? 0;

        return null === $time || 0 === $seconds ? $time : $time->plusSeconds($seconds);
    }
}
