<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/**
 * The drives that the system has mounted. A file system is known by its UUID where udev tells it, else by what the
 * kernel derives from that UUID (`statfs`), else by its source; how devices are numbered or in which order they were
 * plugged in plays no part.
 */
final class MountedDrives implements DriveTable
{
    private const BY_UUID = '/dev/disk/by-uuid';
    private const DEVICES = '/sys/dev/block';
    /** File systems whose `f_fsid` the kernel makes of the UUID on the disk (Linux sources, from memory). */
    private const FSID_OF_UUID = ['ext2', 'ext3', 'ext4', 'btrfs', 'zfs'];
    private const DEEPEST_STACK = 8;
    /** `struct statfs` on 64-bit Linux: seven numbers of 8 bytes come before `f_fsid`. */
    private const STATFS_BYTES = 120;
    private const STATFS = '@56/Lfirst/Lsecond';

    public function holding(string $path): ?Drive
    {
        clearstatcache();
        $real = realpath($path);
        $mount = false === $real ? null : MountTable::now()->holding($real);

        return null === $mount ? null : $this->of($mount);
    }

    private function of(Mount $mount): Drive
    {
        if (str_starts_with($mount->source, '/dev/')) {
            $device = realpath($mount->source);
            $device = false === $device ? $mount->source : $device;
            $id = $this->uuidOf($device) ?? self::fsidOf($mount) ?? 'device:'.$mount->type.':'.$device;
            $disks = $this->disksOf(self::numberOf($device) ?? $mount->device);

            return new Drive($id, $mount->point, $mount->type, [] === $disks ? [$id] : $disks);
        }
        if (1 === preg_match('~^(?://)?([^/:]+)[:/]~', $mount->source, $host)) {
            // two folders of one server are one place: what takes the server takes both
            return new Drive(
                'net:'.$mount->type.':'.$mount->source,
                $mount->point,
                $mount->type,
                ['host:'.strtolower($host[1])],
            );
        }
        $id = 'mount:'.$mount->type.':'.$mount->point;

        return new Drive($id, $mount->point, $mount->type, [$id]);
    }

    private function uuidOf(string $device): ?string
    {
        $links = glob(self::BY_UUID.'/*');
        foreach (false === $links ? [] : $links as $link) {
            if (realpath($link) === $device) {
                return 'uuid:'.stripcslashes(basename($link));
            }
        }

        return null;
    }

    private static function fsidOf(Mount $mount): ?string
    {
        $found = !\in_array($mount->type, self::FSID_OF_UUID, true) ? null : LibC::numbers(
            static fn (\FFI $c, \FFI\CData $memory): int => $c->statfs($mount->point, $memory),
            self::STATFS_BYTES,
            self::STATFS,
        );

        return null === $found || 0 === ($found['first'] | $found['second'])
            ? null
            : \sprintf('fsid:%s:%08x%08x', $mount->type, $found['first'], $found['second']);
    }

    /** @return string|null major and minor number of a device's own file, `8:1` */
    private static function numberOf(string $device): ?string
    {
        $stat = @stat($device);
        if (false === $stat || $stat['rdev'] <= 0) {
            return null;
        }
        $number = $stat['rdev'];

        return \sprintf(
            '%d:%d',
            ($number >> 8) & 0xFFF | ($number >> 32) & ~0xFFF,
            $number & 0xFF | ($number >> 12) & ~0xFF,
        );
    }

    /**
     * The disks beneath a device: its own for a partition, those of all its parts for what is laid over others (LUKS,
     * LVM, RAID).
     *
     * @return list<string>
     */
    private function disksOf(string $number, int $depth = 0): array
    {
        $folder = realpath(self::DEVICES.'/'.$number);
        if (false === $folder || $depth > self::DEEPEST_STACK) {
            return [];
        }
        if (is_file($folder.'/partition')) {
            $folder = \dirname($folder);
        }
        $parts = glob($folder.'/slaves/*/dev');
        $disks = [];
        foreach (false === $parts ? [] : $parts as $part) {
            array_push($disks, ...$this->disksOf(trim((string) @file_get_contents($part)), $depth + 1));
        }

        return [] === $disks ? ['disk:'.basename($folder)] : array_values(array_unique($disks));
    }
}
