<?php

declare(strict_types=1);

namespace Velvet\Core\Duplicate;

/** A file that the ledger has as filed. */
final readonly class FiledCopy
{
    /**
     * @param int          $id     the ledger's own; comes back untouched
     * @param string       $path   relative to its shelf
     * @param Digest       $digest of the content as it was received from the card
     * @param list<string> $places absolute paths at which verified copies were put
     */
    public function __construct(public int $id, public string $path, public int $bytes, public Digest $digest, public array $places)
    {
    }

    /** Whether a copy of the right size still lies in at least one of its places. A ledger that remembers a lost file must not skip the frame. */
    public function isThere(): bool
    {
        foreach ($this->places as $place) {
            $size = is_file($place) ? @filesize($place) : false;
            if ($size === $this->bytes) {
                return true;
            }
        }

        return false;
    }
}
