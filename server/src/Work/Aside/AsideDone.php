<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

/** What is on its way now, or was. */
final readonly class AsideDone
{
    /**
     * @param int          $files with their sidecars, in one place
     * @param int          $bytes of them
     * @param list<string> $left  sentences on frames that stay where they are
     */
    public function __construct(
        public int $frames,
        public int $files,
        public int $bytes,
        public array $left,
    ) {
    }

    /** @return array{frames: int, files: int, bytes: int, left: list<string>} */
    public function toArray(): array
    {
        return ['frames' => $this->frames, 'files' => $this->files, 'bytes' => $this->bytes, 'left' => $this->left];
    }

    public function and(self $other): self
    {
        return new self(
            $this->frames + $other->frames,
            $this->files + $other->files,
            $this->bytes + $other->bytes,
            [...$this->left, ...$other->left],
        );
    }
}
