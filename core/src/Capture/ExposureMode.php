<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** EXIF `ExposureMode` (EXIF 2.32, 4.6.5 G). */
enum ExposureMode: int
{
    case Automatic = 0;
    case Manual = 1;
    case Bracket = 2;

    /** The name under which the facts are written down. */
    public function name(): string
    {
        return match ($this) {
            self::Automatic => 'automatic',
            self::Manual => 'manual',
            self::Bracket => 'bracket',
        };
    }
}
