<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Drive\LibC;

/**
 * Has a drive begin to write while the file is still being read from its card (Linux `sync_file_range`), so that all
 * destinations write at the same time and the sync at the end has little left to wait for. It promises nothing: `fsync`
 * does.
 */
final class WriteBack
{
    private const EVERY = 8 * 1024 * 1024;
    private const O_WRONLY = 1;
    private const SYNC_FILE_RANGE_WRITE = 2;

    private int $written = 0;
    private int $begun = 0;
    private ?int $descriptor = null;

    public function __construct(private readonly string $path)
    {
    }

    public function wrote(int $bytes): void
    {
        $this->written += $bytes;
        if ($this->written - $this->begun >= self::EVERY) {
            $this->begin();
        }
    }

    /** Begins with what there is. */
    public function begin(): void
    {
        $ffi = LibC::ffi();
        if (null === $ffi || $this->written === $this->begun) {
            return;
        }
        $this->descriptor ??= $ffi->open($this->path, self::O_WRONLY);
        if ($this->descriptor >= 0) {
            $ffi->sync_file_range(
                $this->descriptor,
                $this->begun,
                $this->written - $this->begun,
                self::SYNC_FILE_RANGE_WRITE,
            );
        }
        $this->begun = $this->written;
    }

    /** Nothing more is written. */
    public function over(): void
    {
        if (null !== $this->descriptor && $this->descriptor >= 0) {
            LibC::ffi()?->close($this->descriptor);
        }
        $this->descriptor = null;
    }

    public function __destruct()
    {
        $this->over();
    }
}
