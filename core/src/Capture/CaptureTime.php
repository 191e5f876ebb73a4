<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** When a picture was taken, and where that is known from. */
final readonly class CaptureTime
{
    public function __construct(public ShotTime $at, public TimeSource $from)
    {
    }
}
