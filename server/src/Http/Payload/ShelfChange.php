<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class ShelfChange implements Payload
{
    /** @param string|null $twin absolute path; null: none */
    public function __construct(public string $name, public ?string $twin = null)
    {
    }
}
