<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** An entry of a sheet while it is being edited. */
final readonly class ArrangedEntry
{
    /**
     * @param list<int> $frames the ids of its frames, in capture order
     * @param int|null  $shoot  the id of the shoot that it is filed into; null for one of its own
     */
    public function __construct(
        public ?Day $day,
        public EntryWords $words,
        public array $frames,
        public ?int $shoot = null,
    ) {
    }

    /** @param list<int> $frames */
    public function with(array $frames): self
    {
        return new self($this->day, $this->words, $frames, $this->shoot);
    }
}
