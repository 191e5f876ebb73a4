<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

final readonly class KeywordChange implements Payload
{
    /**
     * @param string|null       $above    a path as it is typed; empty: none
     * @param list<string>|null $synonyms
     */
    public function __construct(
        public ?string $name = null,
        public ?string $above = null,
        public ?bool $heading = null,
        public ?bool $private = null,
        public ?bool $withAbove = null,
        public ?array $synonyms = null,
    ) {
    }
}
