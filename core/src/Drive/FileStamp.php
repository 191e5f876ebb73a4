<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/**
 * Size and times of a file in one line of text, without opening it: an equal stamp means that nobody wrote to it, where
 * the drive {@see Drive::keepsChangeTimes()}. Inode numbers are left out: some file systems invent them anew at every
 * mount.
 *
 * Source: Linux `statx(2)`; nanoseconds where the C library can be called, else whole seconds.
 */
final readonly class FileStamp
{
    private const AT_FDCWD = -100;
    private const AT_SYMLINK_NOFOLLOW = 0x100;
    private const STATX_BASIC_STATS = 0x7FF;
    private const STATX_BYTES = 256;
    /** `struct statx`, byte by byte. */
    private const STATX = '@28/Smode/@32/qinode/qsize/@96/qchanged/Lchanged_ns/@112/qmodified/Lmodified_ns'
        .'/@136/Lmajor/Lminor';
    private const TYPE = 0o170000;
    private const REGULAR = 0o100000;

    /**
     * @param int    $bytes      size
     * @param string $modifiedAt Unix seconds, with `.` and nine digits where they are known
     * @param string $changedAt  of the inode, written likewise
     * @param string $inode      device and inode number: two paths that share it are one file
     */
    private function __construct(
        public int $bytes,
        public string $modifiedAt,
        public string $changedAt,
        public string $inode,
    ) {
    }

    /** Null where there is no file, or something else than a file; a link is not followed. */
    public static function of(string $path): ?self
    {
        $found = LibC::numbers(
            static fn (\FFI $c, \FFI\CData $memory): int => $c->statx(
                self::AT_FDCWD,
                $path,
                self::AT_SYMLINK_NOFOLLOW,
                self::STATX_BASIC_STATS,
                $memory,
            ),
            self::STATX_BYTES,
            self::STATX,
        );
        if (null === $found) {
            return self::inSeconds($path);
        }

        return self::REGULAR !== ($found['mode'] & self::TYPE) ? null : new self(
            $found['size'],
            \sprintf('%d.%09d', $found['modified'], $found['modified_ns']),
            \sprintf('%d.%09d', $found['changed'], $found['changed_ns']),
            $found['major'].':'.$found['minor'].':'.$found['inode'],
        );
    }

    /** Where the C library cannot be called, or there is nothing. */
    private static function inSeconds(string $path): ?self
    {
        clearstatcache(true, $path);
        $stat = @lstat($path);

        return false === $stat || self::REGULAR !== ($stat['mode'] & self::TYPE)
            ? null : new self(
                $stat['size'],
                (string) $stat['mtime'],
                (string) $stat['ctime'],
                $stat['dev'].':'.$stat['ino'],
            );
    }

    public function text(): string
    {
        return $this->bytes.' '.$this->modifiedAt.' '.$this->changedAt;
    }

    /** @param string $text as {@see text()} gave it, perhaps where nanoseconds were not known */
    public function equals(string $text): bool
    {
        [$bytes, $modifiedAt, $changedAt] = [...explode(' ', $text), '', ''];

        return $bytes === (string) $this->bytes
            && self::isOneTime($modifiedAt, $this->modifiedAt)
            && self::isOneTime($changedAt, $this->changedAt);
    }

    private static function isOneTime(string $then, string $now): bool
    {
        // both as exact as the less exact of the two
        return str_contains($then, '.') === str_contains($now, '.')
            ? $then === $now
            : explode('.', $then)[0] === explode('.', $now)[0];
    }
}
