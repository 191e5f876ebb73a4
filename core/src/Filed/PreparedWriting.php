<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\TransferFailure;

/** Files with other metadata, verified on every drive, that have not taken their places yet. */
final readonly class PreparedWriting
{
    /**
     * @param list<PartFile> $parts one for each place
     * @param Digest|null    $old   content of the files that they replace; null where there are none yet
     * @param list<string>   $notes sentences on what could not be written as it was asked for
     */
    public function __construct(
        private array $parts,
        private ?Digest $old,
        public Digests $new,
        public int $bytes,
        public array $notes,
    ) {
    }

    /**
     * All that must not have changed meanwhile is looked at before the first one goes.
     *
     * @throws TransferFailure
     */
    public function takePlace(): void
    {
        if (null === $this->old) {
            foreach ($this->parts as $part) {
                $part->place($this->new->content);
            }

            return;
        }
        foreach ($this->parts as $part) {
            $part->mustReplace($this->old);
        }
        foreach ($this->parts as $part) {
            $part->takePlace();
        }
    }

    public function discard(): void
    {
        foreach ($this->parts as $part) {
            $part->discard();
        }
    }
}
