<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Is told how a file's copy gets on, and may make it wait. */
interface CopyWatch
{
    /** The card is about to be read: whoever waits here until nobody else reads it keeps its reading sequential. */
    public function reading(): void;

    /** @param int $bytes read from the card since the last call */
    public function read(int $bytes): void;

    /** The card is closed; the copies are synced and read back. */
    public function verifying(): void;

    /** @param int $bytes read back since the last call */
    public function checked(int $bytes): void;
}
