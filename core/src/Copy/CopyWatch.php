<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Is told how a file's copy gets on, and may make it wait. */
interface CopyWatch
{
    /** What is told from here on is of this file. */
    public function file(FileToCopy $file): void;

    /** The card is about to be read: whoever waits here until nobody else reads it keeps its reading sequential. */
    public function reading(): void;

    /** @param int $bytes read from the card since the last call */
    public function read(int $bytes): void;

    /**
     * The card is closed; the copies are synced, read back and named.
     *
     * @param non-empty-list<CopiedFile|null> $read what is about to be named, in the order of the files; null for those
     *     that failed
     *
     * @return list<int> those, by their place in the list, that somebody else has taken over: they get no name here
     */
    public function verifying(array $read): array;

    /** @param int $bytes read back since the last call */
    public function checked(int $bytes): void;
}
