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

    /**
     * From a {@see self::name()}, of which model and serial are known by themselves.
     *
     * @param string $model  empty where it has none
     * @param string $serial the same
     */
    public static function named(string $name, string $model, string $serial): self
    {
        $make = trim(substr($name, 0, \strlen($name) - \strlen(trim($model.' '.$serial))));

        return new self('' === $make ? null : $make, $model, $serial);
    }

    /** Tells bodies apart. */
    public function name(): string
    {
        return implode(' ', array_filter([$this->make, $this->model, $this->serial], is_string(...)));
    }
}
