<?php

declare(strict_types=1);

namespace Velvet\Demo;

/** What the camera writes about one frame. */
final readonly class Exposure
{
    /**
     * @param string           $time         wall clock `YYYY:MM:DD HH:MM:SS`
     * @param int              $milliseconds 0 to 999
     * @param array{int, int}  $shutter      seconds, as numerator and denominator
     * @param array{int, int}  $aperture     f-number
     * @param int              $bias         exposure bias in thirds of a stop
     */
    public function __construct(
        public Camera $camera,
        public string $time,
        public int $milliseconds,
        public array $shutter,
        public array $aperture,
        public int $iso,
        public int $focalMillimetres,
        public int $orientation = 1,
        public int $bias = 0,
    ) {
    }
}
