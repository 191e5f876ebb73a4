<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** An image file directory (TIFF 6.0, section 2): fields by tag, and the offset of the directory after it. */
final readonly class Ifd
{
    /**
     * @param string          $table   the directory's fields, 12 bytes each
     * @param array<int, int> $places  where the field of a tag stands in the table
     * @param int             $next    0 where none follows
     * @param bool            $isWhole whether the block held the whole of it
     */
    public function __construct(
        private TiffBlock $block,
        private string $table,
        private array $places,
        public int $next,
        public bool $isWhole,
    ) {
    }

    private function entry(int $tag): ?IfdEntry
    {
        return isset($this->places[$tag]) ? $this->block->field($this->table, $this->places[$tag]) : null;
    }

    public function has(int $tag): bool
    {
        return isset($this->places[$tag]);
    }

    public function text(int $tag): ?string
    {
        return $this->entry($tag)?->text();
    }

    public function integer(int $tag): ?int
    {
        return $this->entry($tag)?->integer();
    }

    /** @return list<int> */
    public function integers(int $tag, int $most): array
    {
        return $this->entry($tag)?->integers($most) ?? [];
    }

    /** @return array{int, int}|null */
    public function rational(int $tag): ?array
    {
        return $this->rationals($tag, 1)[0] ?? null;
    }

    /** Up to $most bytes of a field of bytes; empty for other types. */
    public function bytes(int $tag, int $most): string
    {
        return $this->entry($tag)?->bytes($most) ?? '';
    }

    /** An embedded file that a field holds. */
    public function range(int $tag): ?ByteRange
    {
        return $this->entry($tag)?->range();
    }

    /** @return list<array{int, int}> */
    public function rationals(int $tag, int $most): array
    {
        return $this->entry($tag)?->rationals($most) ?? [];
    }
}
