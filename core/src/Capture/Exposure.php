<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** How a picture was exposed; what the file does not say is null. */
final readonly class Exposure
{
    /**
     * @param float|null $seconds          exposure time
     * @param float|null $bias             stops
     * @param float|null $selfTimerSeconds from pressing the button; 0 where none
     */
    public function __construct(
        public ?float $seconds = null,
        public ?int $iso = null,
        public ?float $bias = null,
        public ?ExposureMode $mode = null,
        public ?float $selfTimerSeconds = null,
    ) {
    }
}
