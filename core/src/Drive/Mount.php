<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/** One line of the table of mounts (Linux `proc(5)`, `/proc/PID/mountinfo`). */
final readonly class Mount
{
    /**
     * @param int    $id     of the mount; a later one may get it again
     * @param string $device major and minor number, `8:1`
     * @param string $within the folder of the file system that is mounted; `/` where it is all of it
     * @param string $point  absolute folder at which it is mounted
     * @param string $type   of the file system
     * @param string $source what is mounted: a block device, `host:/path`, or a word
     */
    public function __construct(
        public int $id,
        public string $device,
        public string $within,
        public string $point,
        public string $type,
        public string $source,
    ) {
    }

    public function holds(string $path): bool
    {
        return '/' === $this->point || $path === $this->point || str_starts_with($path, $this->point.'/');
    }
}
