<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Drive\FileStamp;

/**
 * Moves a file to another folder of its drive. At every moment it is whole under one of the two names, and no other
 * file is ever replaced; done again after a crash it goes on where it was.
 */
final class FileMove
{
    /**
     * @param string $from   absolute
     * @param string $to     absolute, on the same drive
     * @param Ground $ground what both stand on
     *
     * @return bool whether it lies there now; false where there was none to move
     *
     * @throws NameTaken             when another file bears the new name
     * @throws DestinationUnwritable
     * @throws DriveGone
     * @throws LeadsAway             when a folder of the shelf is a link
     */
    public static function on(string $from, string $to, Ground $ground): bool
    {
        $ground->mustHold(\dirname($from));
        $ground->mustHold(\dirname($to));
        $source = FileStamp::of($from);
        if (null === $source) {
            return null !== FileStamp::of($to);
        }
        SyncedFolder::make(\dirname($to));
        if (!ExclusiveRename::move($from, $to) && !self::link($from, $to, $source)) {
            throw NameTaken::by($to);
        }
        SyncedFolder::sync(\dirname($to));
        SyncedFolder::sync(\dirname($from));

        return true;
    }

    /**
     * Where the kernel has no rename that refuses a name: a second name for the file, then the first one goes.
     *
     * @return bool false where another file bears the new name
     *
     * @throws DestinationUnwritable
     */
    private static function link(string $from, string $to, FileStamp $source): bool
    {
        error_clear_last();
        @link($from, $to);
        $reason = SystemReason::last();
        $there = FileStamp::of($to);
        if ($there?->inode !== $source->inode) {
            return null === $there && !is_link($to) && !file_exists($to)
                ? throw DestinationUnwritable::move($from, $to, $reason)
                : false;
        }
        if (!@unlink($from)) {
            throw DestinationUnwritable::move($from, $to, SystemReason::last());
        }

        return true;
    }

    /**
     * Removes a folder that is empty now, and those above it, up to the one that is to stay.
     *
     * @param string $stays absolute; itself never removed
     */
    public static function tidy(string $folder, string $stays): void
    {
        while (str_starts_with($folder, $stays.'/') && @rmdir($folder)) {
            SyncedFolder::sync(\dirname($folder));
            $folder = \dirname($folder);
        }
    }
}
