<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Card\CardFile;

/**
 * The files of one frame as they come from the database, and what is known of each; the lists are in their order, and
 * empty where there is nothing to say of any: a sheet has thousands of frames.
 */
final class FrameFiles
{
    /** @var list<CardFile> */
    public array $files = [];
    /** @var list<string|null> */
    public array $fingerprints = [];
    /** @var list<string|null> where the ledger has each, relative to its shelf */
    public array $sameAs = [];
    /** @var list<FiledAt|null> the filed copy of each that is missing or damaged somewhere */
    public array $repairs = [];

    public function add(CardFile $file, ?string $fingerprint, ?string $sameAs, ?FiledAt $repairs): void
    {
        $before = \count($this->files);
        $this->files[] = $file;
        $this->fingerprints[] = $fingerprint;
        if (null !== $sameAs || [] !== $this->sameAs) {
            $this->sameAs = [...array_pad($this->sameAs, $before, null), $sameAs];
        }
        if (null !== $repairs || [] !== $this->repairs) {
            $this->repairs = [...array_pad($this->repairs, $before, null), $repairs];
        }
    }
}
