<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class SelectionConversion extends Selection
{
    /**
     * @param non-empty-list<int>|null $frames null: all of the shoot
     * @param list<int>                $except
     */
    public function __construct(
        public Conversion $do,
        ?array $frames = null,
        array $except = [],
        ?int $of = null,
    ) {
        parent::__construct($frames, $except, $of);
    }
}
