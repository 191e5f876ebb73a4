<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class NewKeyword implements Payload
{
    public function __construct(public string $path)
    {
    }
}
