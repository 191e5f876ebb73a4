<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/**
 * Where a folder's drive is mounted. A drive that is taken off leaves an empty folder of the computer's own disk there: asked
 * for its mount point alone can one tell that nothing must be written, or held to be missing, in that folder.
 */
final class MountPoint
{
    /**
     * The folder at or above this one at which another file system begins (POSIX `st_dev`); `/` where none does.
     *
     * @param string $folder absolute; need not be there, the nearest one above it that is counts
     */
    public static function of(string $folder): string
    {
        clearstatcache();
        while ('/' !== $folder && !is_dir($folder)) {
            $folder = \dirname($folder);
        }
        $folder = realpath($folder);
        if (false === $folder) {
            return '/';
        }
        while ('/' !== $folder && !self::isMounted($folder)) {
            $folder = \dirname($folder);
        }

        return $folder;
    }

    /**
     * Whether a folder is there, and on the drive that it was on before.
     *
     * @param string|null $mountPoint as {@see of()} gave it then; null where nobody asked
     */
    public static function has(string $folder, ?string $mountPoint): bool
    {
        clearstatcache();

        return is_dir($folder) && (null === $mountPoint || '/' === $mountPoint || self::isMounted($mountPoint));
    }

    private static function isMounted(string $folder): bool
    {
        [$here, $above] = [@stat($folder), @stat(\dirname($folder))];

        return false !== $here && false !== $above && $here['dev'] !== $above['dev'];
    }
}
