<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

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
                    int renameat2(
                        int olddirfd, const char *oldpath, int newdirfd, const char *newpath, unsigned int flags
                    );
                    int statx(int folder, const char *path, int flags, unsigned int mask, char *found);
                    int statfs(const char *path, char *found);
                    C, 'libc.so.6');
            } catch (\FFI\Exception) {
                self::$ffi = false;
            }
        }

        return false === self::$ffi ? null : self::$ffi;
    }

    /**
     * Calls a function that fills a structure, and reads numbers from it.
     *
     * @param \Closure(\FFI, \FFI\CData): int $call   gives 0 where it went well
     * @param int<1, max>                    $bytes  that the structure has
     * @param string                          $format as for `unpack`, in the machine's byte order
     *
     * @return array<string, int>|null null where it failed, or where the C library cannot be called
     */
    public static function numbers(\Closure $call, int $bytes, string $format): ?array
    {
        $ffi = self::ffi();
        $memory = $ffi?->new("char[$bytes]");
        if (null === $ffi || null === $memory || 0 !== $call($ffi, $memory)) {
            return null;
        }
        $numbers = [];
        foreach ((array) unpack($format, \FFI::string($memory, $bytes)) as $name => $number) {
            \assert(\is_int($number));
            $numbers[(string) $name] = $number;
        }

        return $numbers;
    }
}
