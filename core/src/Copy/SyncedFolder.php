<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\SystemReason;

/** Folders whose entries have reached the drive: after a power cut a name that was synced is still there. */
final class SyncedFolder
{
    /**
     * Makes a folder and those above it that are missing, and syncs each that got a new entry.
     *
     * @return list<string> the folders that were made, outermost first
     *
     * @throws DestinationUnwritable
     */
    public static function make(string $folder): array
    {
        if (is_dir($folder)) {
            return [];
        }
        $parent = \dirname($folder);
        $made = $parent === $folder ? [] : self::make($parent);
        error_clear_last();
        if (!@mkdir($folder) && !self::isThere($folder)) {
            throw DestinationUnwritable::folder($folder, SystemReason::last());
        }
        self::sync($parent);
        $made[] = $folder;

        return $made;
    }

    public static function sync(string $folder): void
    {
        $handle = @fopen($folder, 'r');
        if (false !== $handle) {
            @fsync($handle);
            fclose($handle);
        }
    }

    /** @phpstan-impure another worker may have made it meanwhile */
    private static function isThere(string $folder): bool
    {
        clearstatcache(true, $folder);

        return is_dir($folder);
    }
}
