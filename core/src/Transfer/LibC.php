<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** The C library's calls that PHP has no function for. Null where FFI is switched off (the web server's PHP). */
final class LibC
{
    private static \FFI|false|null $ffi = null;

    public static function ffi(): ?\FFI
    {
        if (null === self::$ffi) {
            try {
                self::$ffi = \FFI::cdef(<<<'C'
                    int open(const char *path, int flags);
                    int close(int fd);
                    int posix_fadvise(int fd, long offset, long length, int advice);
                    int sync_file_range(int fd, long offset, long length, unsigned int flags);
                    int renameat2(int olddirfd, const char *oldpath, int newdirfd, const char *newpath, unsigned int flags);
                    C, 'libc.so.6');
            } catch (\FFI\Exception) {
                self::$ffi = false;
            }
        }

        return false === self::$ffi ? null : self::$ffi;
    }
}
