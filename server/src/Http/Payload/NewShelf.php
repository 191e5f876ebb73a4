<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class NewShelf implements Payload
{
    /**
     * @param string      $root absolute path
     * @param string|null $twin the same; null: none
     */
    public function __construct(public string $name, public string $root, public ?string $twin = null)
    {
    }
}
