<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

/** A keyword as a list that is exchanged between programs has it. */
final readonly class ListedKeyword
{
    /** @param list<string> $synonyms */
    public function __construct(
        public KeywordPath $path,
        public bool $heading = false,
        public bool $private = false,
        public bool $withAbove = true,
        public array $synonyms = [],
    ) {
    }
}
