<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/**
 * Parts of files that are read soon: the drive fetches several of them at a time, while something else is done, instead
 * of one when it is waited for (POSIX `posix_fadvise`). It promises nothing, and nobody waits for it.
 */
final class ReadAhead
{
    private const O_RDONLY = 0;
    private const POSIX_FADV_WILLNEED = 3;

    /** @param list<array{int, int}> $parts offset and length of each, in bytes; a length of 0 goes to the end */
    public static function of(string $path, array $parts = [[0, 0]]): void
    {
        $ffi = LibC::ffi();
        if (null === $ffi) {
            return;
        }
        $descriptor = $ffi->open($path, self::O_RDONLY);
        if ($descriptor >= 0) {
            foreach ($parts as [$offset, $length]) {
                $ffi->posix_fadvise($descriptor, $offset, $length, self::POSIX_FADV_WILLNEED);
            }
            $ffi->close($descriptor);
        }
    }
}
