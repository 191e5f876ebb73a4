<?php

declare(strict_types=1);

namespace Velvet\Demo;

/** What is to be drawn for a frame. */
final readonly class Drawing
{
    /**
     * @param string $base  frames of one base show the same things from nearly the same place
     * @param float  $night 0 at sunset, 1 in full night
     * @param int    $view  which part of the harbour
     * @param float  $blur  how far out of focus, in pixels
     * @param float  $stops over- or underexposure
     * @param float  $t     how far the morning has come, 0 to 1
     */
    public function __construct(
        public string $subject,
        public string $base,
        public float $night = 0.0,
        public int $view = 0,
        public bool $rain = false,
        public float $blur = 0.0,
        public float $stops = 0.0,
        public float $t = 0.0,
    ) {
    }
}
