<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/**
 * The computer's memory of what it wrote. A check that reads from memory checks nothing, so it is told to forget first.
 */
interface DriveCache
{
    /** Forgets a synced file, so that the next reading comes from the drive. */
    public function forget(string $path): void;

    /** Has a drive begin with a file that is read soon: of many small ones it fetches several at a time. */
    public function fetch(string $path): void;
}
