<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Drive\LibC;
use Velvet\Core\Drive\ReadAhead;

/** The kernel's page cache. */
final readonly class PageCache implements DriveCache
{
    private const O_RDONLY = 0;
    private const POSIX_FADV_DONTNEED = 4;

    /** Drops a synced file's pages (POSIX `posix_fadvise`), so that the next reading comes from the drive. */
    public function forget(string $path): void
    {
        $ffi = LibC::ffi();
        if (null === $ffi) {
            return;
        }
        $descriptor = $ffi->open($path, self::O_RDONLY);
        if ($descriptor >= 0) {
            $ffi->posix_fadvise($descriptor, 0, 0, self::POSIX_FADV_DONTNEED);
            $ffi->close($descriptor);
        }
    }

    public function fetch(string $path): void
    {
        ReadAhead::of($path);
    }
}
