<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** The camera that took a picture; what the file does not say is null. */
final readonly class CameraBody
{
    public function __construct(
        public ?string $make = null,
        public ?string $model = null,
        public ?string $serial = null,
    ) {
    }

    /** Tells bodies apart. */
    public function name(): string
    {
        return implode(' ', array_filter([$this->make, $this->model, $this->serial], is_string(...)));
    }
}
