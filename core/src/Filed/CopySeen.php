<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Drive\Drive;

/** One verified copy of a filed file as it was just looked at. */
final readonly class CopySeen
{
    /**
     * @param string     $root  absolute: the folder of the place it belongs to
     * @param Drive|null $drive that it lies on now; null unless it is whole
     * @param string     $inode of the file found, as {@see \Velvet\Core\Drive\FileStamp::$inode}; empty unless it is
     * whole
     */
    private function __construct(
        public string $root,
        public CopyStanding $standing,
        public ?Drive $drive,
        public string $inode,
    ) {
    }

    public static function whole(string $root, Drive $drive, string $inode): self
    {
        return new self($root, CopyStanding::Whole, $drive, $inode);
    }

    public static function not(string $root, CopyStanding $standing): self
    {
        \assert(CopyStanding::Whole !== $standing);

        return new self($root, $standing, null, '');
    }

    /** Whether nothing is wrong with it: it is as it was verified, or is just being written into by us. */
    public function isIntact(): bool
    {
        return CopyStanding::Whole === $this->standing || CopyStanding::BeingWritten === $this->standing;
    }
}
