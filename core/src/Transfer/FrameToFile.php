<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Naming\FrameNaming;

/** A frame as the plan takes it. */
final readonly class FrameToFile
{
    /**
     * @param int                      $id     the caller's own; comes back untouched
     * @param non-empty-list<CardFile> $files
     * @param list<string|null>        $sameAs where the ledger has each file already, in the order of the files; null for those it has not, and empty where it has none
     */
    public function __construct(public int $id, public array $files, public FrameNaming $naming, public FrameState $state = FrameState::New, public array $sameAs = [])
    {
    }
}
