<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class CameraName implements Payload
{
    public function __construct(public string $camera, public string $name)
    {
    }
}
