<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

use Velvet\Core\Drive\MountTable;

/**
 * One stay of a card in its reader. A card that was out may have been anywhere: what was read of it before is looked at
 * again, even if it was away for less than a second and the computer was off meanwhile.
 */
final readonly class Insertion
{
    private const BOOT = '/proc/sys/kernel/random/boot_id';
    private const DEVICES = '/sys/dev/block';

    /**
     * The run of the computer, the mount and the medium (Linux `diskseq` counts every change of it), and the folder
     * itself: moved or replaced by another of its name it is another one. Null where nothing is there.
     *
     * @param string $root absolute
     */
    public static function at(string $root): ?string
    {
        clearstatcache(true, $root);
        $real = realpath($root);
        $folder = false === $real || !is_dir($real) ? false : @stat($real);
        if (false === $real || false === $folder) {
            return null;
        }
        $mount = MountTable::now()->at($real);
        $medium = null === $mount ? 'folder '.$folder['ctime'] : $mount->id.' '.self::changesOf($mount->device);

        return hash(
            'xxh128',
            implode(
                "\0",
                [trim((string) @file_get_contents(self::BOOT)), $medium, $folder['dev'], $folder['ino'], $real],
            ),
        );
    }

    /** How often the medium of a device was changed; a partition is of its disk's. */
    private static function changesOf(string $device): string
    {
        $folder = self::DEVICES.'/'.$device;

        return trim(
            (string) @file_get_contents(is_file($folder.'/partition') ? $folder.'/../diskseq' : $folder.'/diskseq'),
        );
    }
}
