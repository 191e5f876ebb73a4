<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/** A drive, known by what it is and not by where it is mounted or how the computer numbers it today. */
final readonly class Drive
{
    /**
     * File systems whose inode change time tells of every change of a file's content (POSIX `st_ctime`, kept on the
     * disk).
     */
    private const KEEPS_CHANGE_TIMES = [
        'ext2', 'ext3', 'ext4', 'xfs', 'btrfs', 'zfs', 'f2fs', 'tmpfs', 'bcachefs', 'overlay',
    ];

    /**
     * @param string                 $id    of the file system: the same whenever and wherever it is connected
     * @param string                 $point the folder at which it is mounted now
     * @param string                 $type  of the file system
     * @param non-empty-list<string> $disks what it lies on: partitions of one disk share that disk
     */
    public function __construct(public string $id, public string $point, public string $type, public array $disks)
    {
    }

    /** Whether nothing that breaks the one breaks the other: no disk in common. */
    public function isApartFrom(self $other): bool
    {
        return $this->id !== $other->id && [] === array_intersect($this->disks, $other->disks);
    }

    /**
     * Whether an unchanged {@see FileStamp} shows that a file was not written to. FAT and its like keep no change time.
     */
    public function keepsChangeTimes(): bool
    {
        return \in_array($this->type, self::KEEPS_CHANGE_TIMES, true);
    }
}
