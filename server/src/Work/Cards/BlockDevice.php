<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Drive\MountTable;

/** The device of a card that is a drive of its own. */
final class BlockDevice
{
    /**
     * The file of the block device that is mounted at exactly this folder; null where the folder is only one of a
     * larger file system.
     */
    public static function at(string $root): ?string
    {
        $source = MountTable::now()->at($root)->source ?? '';
        $device = str_starts_with($source, '/dev/') ? realpath($source) : false;

        return false === $device ? null : $device;
    }
}
