<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;

/** A file that the ledger has as filed. */
final readonly class FiledCopy
{
    /**
     * @param int          $id      the ledger's own; comes back untouched
     * @param string       $path    relative to its shelf
     * @param Digest       $digest  of the content as it was received from the card
     * @param list<string> $roots   absolute: the shelf, and its twin where it has one; those whose drives are connected
     * @param list<string> $damaged the roots at which a check found it missing or changed
     */
    public function __construct(
        public int $id,
        public string $path,
        public Digest $digest,
        public array $roots,
        public array $damaged = [],
    ) {
    }

    /**
     * Whether a copy still lies there. A ledger that remembers a lost file must not skip the frame: where no drive can
     * be looked at, the answer is no.
     */
    public function isThere(): bool
    {
        return [] !== array_filter($this->roots, $this->isWholeAt(...));
    }

    /** Whether a copy is missing or damaged on a drive that is connected, so that it can be put right. */
    public function needsRepair(): bool
    {
        return [] !== array_filter($this->roots, fn (string $root): bool => is_dir($root) && !$this->isWholeAt($root));
    }

    private function isWholeAt(string $root): bool
    {
        return is_file($root.'/'.$this->path) && !\in_array($root, $this->damaged, true);
    }
}
