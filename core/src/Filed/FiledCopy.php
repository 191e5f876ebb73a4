<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;

/** A file that the ledger has as filed, as its copies were just seen. */
final readonly class FiledCopy
{
    /**
     * @param int          $id     the ledger's own; comes back untouched
     * @param string       $path   relative to its shelf, as it is shown; its copies may have another name by now
     * @param Digest       $digest of the content as it was received from the card
     * @param list<string> $whole  roots of shelf and twin at which a copy is whole
     * @param list<string> $lacks  those on connected drives at which none is
     */
    public function __construct(
        public int $id,
        public string $path,
        public Digest $digest,
        private array $whole,
        private array $lacks = [],
    ) {
    }

    /**
     * Whether a copy still lies there. A ledger that remembers a lost file must not skip the frame: where no drive can
     * be looked at, the answer is no.
     */
    public function isThere(): bool
    {
        return [] !== $this->whole;
    }

    /** Whether a copy is missing or damaged on a drive that is connected, so that it can be put right. */
    public function needsRepair(): bool
    {
        return [] !== $this->lacks;
    }
}
