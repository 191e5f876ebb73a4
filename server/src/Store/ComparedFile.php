<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** A file on a card, and which filed file it equals. */
final readonly class ComparedFile
{
    /**
     * @param string      $path        on its card
     * @param string|null $fingerprint hexadecimal
     * @param int|null    $before      the filed file that it counted as when it was begun
     * @param int|null    $filed       the filed file of the same content; null where there is none that is whole
     * @param int|null    $repairs     the filed file of the same content that lacks a whole copy
     */
    public function __construct(
        public int $id,
        public int $frame,
        public string $path,
        public ?string $fingerprint,
        public ?int $before,
        public ?int $filed = null,
        public ?int $repairs = null,
    ) {
    }

    public function equals(?int $filed, ?int $repairs): self
    {
        return new self($this->id, $this->frame, $this->path, $this->fingerprint, $this->before, $filed, $repairs);
    }
}
