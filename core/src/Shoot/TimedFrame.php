<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\ShotTime;

/** What division and order need to know of a frame. */
final readonly class TimedFrame
{
    /**
     * @param int    $id     the caller's own; comes back untouched
     * @param string $camera tells bodies apart: make, model and serial number
     * @param string $path   of the leading file on the card; the last word in the order
     */
    public function __construct(
        public int $id,
        public ?ShotTime $capturedAt,
        public string $camera,
        public string $path,
    ) {
    }
}
