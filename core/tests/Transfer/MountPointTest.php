<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Transfer;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Core\Transfer\MountPoint;

final class MountPointTest extends TestCase
{
    use TemporaryFolder;

    public function testItIsTheOneThatStatTells(): void
    {
        foreach ([$this->folder, $this->folder.'/not/made/yet', '/proc/self', '/dev/shm', '/'] as $folder) {
            // `stat` from coreutils, of the folder or the nearest one above it
            $nearest = str_contains($folder, '/not/') ? $this->folder : $folder;
            self::assertSame(trim((string) shell_exec('stat -c %m '.escapeshellarg($nearest))), MountPoint::of($folder), $folder);
        }
    }

    public function testAFolderWhoseDriveIsTakenOffIsNotThere(): void
    {
        self::assertTrue(MountPoint::has($this->folder, null));
        self::assertTrue(MountPoint::has($this->folder, '/'), 'it never was on a drive of its own');
        self::assertTrue(MountPoint::has('/dev/shm', '/dev/shm'));
        self::assertFalse(MountPoint::has($this->folder, $this->folder), 'once a drive was mounted here; now it is a folder like others');
        self::assertFalse(MountPoint::has($this->folder.'/gone', null));
    }
}
