<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** An image file directory (TIFF 6.0, section 2): fields by tag, and the offset of the directory after it. */
final readonly class Ifd
{
    /**
     * @param array<int, IfdEntry> $entries
     * @param int                  $next    0 where none follows
     * @param bool                 $isWhole whether the block held the whole of it
     */
    public function __construct(private array $entries, public int $next, public bool $isWhole)
    {
    }

    public function has(int $tag): bool
    {
        return isset($this->entries[$tag]);
    }

    public function text(int $tag): ?string
    {
        return ($this->entries[$tag] ?? null)?->text();
    }

    public function integer(int $tag): ?int
    {
        return ($this->entries[$tag] ?? null)?->integer();
    }

    /** @return list<int> */
    public function integers(int $tag, int $most): array
    {
        return ($this->entries[$tag] ?? null)?->integers($most) ?? [];
    }

    /** @return array{int, int}|null */
    public function rational(int $tag): ?array
    {
        return $this->rationals($tag, 1)[0] ?? null;
    }

    /** Up to $most bytes of a field of bytes; empty for other types. */
    public function bytes(int $tag, int $most): string
    {
        return ($this->entries[$tag] ?? null)?->bytes($most) ?? '';
    }

    /** An embedded file that a field holds. */
    public function range(int $tag): ?ByteRange
    {
        return ($this->entries[$tag] ?? null)?->range();
    }

    /** @return list<array{int, int}> */
    public function rationals(int $tag, int $most): array
    {
        return ($this->entries[$tag] ?? null)?->rationals($most) ?? [];
    }
}
