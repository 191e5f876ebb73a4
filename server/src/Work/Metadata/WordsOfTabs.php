<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

/** What frames say by tabs that are put on them or taken off. */
final readonly class WordsOfTabs
{
    /**
     * @param list<int> $add      ids of keywords
     * @param list<int> $remove   ids of keywords
     * @param bool      $isLabel  whether any of the tabs is written as the label
     */
    public function __construct(public array $add, public array $remove, public bool $isLabel)
    {
    }

    public function areWritten(): bool
    {
        return [] !== $this->add || [] !== $this->remove || $this->isLabel;
    }
}
