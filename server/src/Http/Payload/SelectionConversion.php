<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class SelectionConversion extends Selection
{
    /** @param non-empty-list<int>|null $frames null: all of the shoot */
    public function __construct(public Conversion $do, ?array $frames = null)
    {
        parent::__construct($frames);
    }
}
