<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** Whether a drive has room for what will be written. */
final readonly class Room
{
    /** Left free on top of the files: folders, the file system's own needs (our choice). */
    public const RESERVE = 64 * 1024 * 1024;

    /** @param int|null $free bytes; null where the drive is not there */
    private function __construct(
        public string $path,
        public ?int $free,
        public int $needed,
        public bool $isWritable,
    ) {
    }

    /** @param bool $isThere whether the drive of the path is connected */
    public static function on(string $path, int $needed, bool $isThere = true): self
    {
        $free = $isThere && is_dir($path) ? @disk_free_space($path) : false;

        return new self($path, false === $free ? null : (int) $free, $needed, is_writable($path));
    }

    /** Bytes that are missing; 0 where there is room. */
    public function missing(): int
    {
        return null === $this->free || 0 === $this->needed ? 0 : max(0, $this->needed + self::RESERVE - $this->free);
    }
}
