<?php

declare(strict_types=1);

namespace Velvet\Demo;

/** A body of the invented maker Tarn Optical. */
final readonly class Camera
{
    public const MAKE = 'Tarn Optical';

    public function __construct(public string $model, public string $serial, public string $lens, public string $prefix)
    {
    }
}
