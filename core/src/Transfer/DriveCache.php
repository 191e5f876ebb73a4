<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** The computer's memory of what it wrote. A check that reads from memory checks nothing, so it is told to forget first. */
final readonly class DriveCache
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
        // @phpstan-ignore method.notFound (declared to FFI in LibC)
        $descriptor = $ffi->open($path, self::O_RDONLY);
        if (\is_int($descriptor) && $descriptor >= 0) {
            $ffi->posix_fadvise($descriptor, 0, 0, self::POSIX_FADV_DONTNEED); // @phpstan-ignore method.notFound
            $ffi->close($descriptor); // @phpstan-ignore method.notFound
        }
    }
}
