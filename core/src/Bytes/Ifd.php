<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** An image file directory (TIFF 6.0, section 2): fields by tag, and the offset of the directory after it. */
final readonly class Ifd
{
    /**
     * @param string          $table  the directory's fields, 12 bytes each
     * @param list<int>       $shorts the same as numbers of two bytes, six each
     * @param array<int, int> $places which field a tag has
     * @param int             $next   0 where none follows
     * @param bool            $isWhole whether the block held the whole of it
     * @param int|null        $twice  a tag that stands in it more than once, against the standard; the first counts
     */
    private function __construct(
        private TiffBlock $block,
        private string $table,
        private array $shorts,
        private array $places,
        public int $next,
        public bool $isWhole,
        public ?int $twice,
    ) {
    }

    /** @param string $table its fields, 12 bytes each; what is left of one that breaks off counts as none */
    public static function of(TiffBlock $block, string $table, int $next, bool $isWhole): self
    {
        $shorts = TiffBlock::numbers($table, 2, $block->littleEndian);
        $places = [];
        $twice = null;
        for ($n = 0, $count = intdiv(\strlen($table), 12); $n < $count; ++$n) {
            $tag = $shorts[6 * $n];
            if (!isset($places[$tag])) {
                $places[$tag] = $n;
            } else {
                $twice ??= $tag;
            }
        }

        return new self($block, $table, $shorts, $places, $next, $isWhole, $twice);
    }

    public function isEmpty(): bool
    {
        return [] === $this->places;
    }

    /** @return array<int, string> the 12 bytes of each field by its tag, in the order in which they stand */
    public function raw(): array
    {
        return array_map(fn (int $n): string => substr($this->table, 12 * $n, 12), $this->places);
    }

    /**
     * All fields with their values, in little-endian order as they are written into another structure.
     *
     * @param int $most larger ones are left out, as are those that do not lie within the block
     *
     * @return array<int, array{int, string}> type and bytes by tag
     */
    public function copied(int $most): array
    {
        $fields = [];
        foreach (array_keys($this->places) as $tag) {
            $entry = $this->entry($tag);
            $value = $entry?->value($most);
            if (null !== $value && null !== $entry?->type) {
                $fields[$tag] = [$entry->type->value, $entry->littleEndian($value)];
            }
        }

        return $fields;
    }

    public function entry(int $tag): ?IfdEntry
    {
        $n = $this->places[$tag] ?? null;
        if (null === $n) {
            return null;
        }
        [$first, $second] = [$this->shorts[6 * $n + 2], $this->shorts[6 * $n + 3]];

        return new IfdEntry(
            $this->block,
            TiffType::tryFrom($this->shorts[6 * $n + 1]),
            $this->block->littleEndian ? $first | $second << 16 : $first << 16 | $second,
            substr($this->table, 12 * $n + 8, 4),
        );
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

    /** Of a signed type. */
    public function signed(int $tag): ?int
    {
        return $this->entry($tag)?->signed();
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
