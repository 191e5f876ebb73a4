<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** What is known of copies; nothing counts as one but what stands there. */
interface CopyLedger
{
    /**
     * @param list<int> $files
     *
     * @return list<KeptCopy> one file after another, the shelf's own copy before its twin's
     */
    public function of(array $files): array;

    /** The copy holds what it should, as it was just read. */
    public function whole(KeptCopy $copy): void;

    /** It is not there, or is another one. Nothing is set down where it was verified anew since it was asked for. */
    public function damaged(KeptCopy $copy, CopyStanding $standing): void;
}
