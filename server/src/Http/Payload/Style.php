<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class Style implements Payload
{
    /** @param array<mixed> $style a document as `docs/house-style.schema.json` has it */
    public function __construct(public array $style)
    {
    }
}
