<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What a picture was seen through; what the file does not say is null. */
final readonly class Optics
{
    /**
     * @param float|null      $fNumber          focal length by diameter of the entrance pupil
     * @param float|null      $focalMillimetres the real focal length, not the 35 mm equivalent
     * @param LensNumber|null $number           of a lens that is not named
     */
    public function __construct(
        public ?string $lens = null,
        public ?float $fNumber = null,
        public ?float $focalMillimetres = null,
        public ?LensNumber $number = null,
    ) {
    }

    public function named(string $lens): self
    {
        return new self($lens, $this->fNumber, $this->focalMillimetres);
    }
}
