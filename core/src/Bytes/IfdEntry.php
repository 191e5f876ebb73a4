<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** One field of a TIFF directory. Its values are read when asked for, and never more of them than asked for. */
final readonly class IfdEntry
{
    private const LONGEST_TEXT = 2048;

    /**
     * @param TiffType|null $type  null for a type that no standard names
     * @param int           $count number of values
     * @param string        $field the entry's last four bytes: the values themselves, or the offset at which they lie
     */
    public function __construct(
        private TiffBlock $block,
        public ?TiffType $type,
        private int $count,
        private string $field,
    ) {
    }

    /**
     * Text up to its first NUL, without blanks at its ends; null where there is none. Bytes that are no UTF-8 are read
     * as {@see OlderText} does.
     */
    public function text(): ?string
    {
        if (TiffType::Ascii !== $this->type && TiffType::Undefined !== $this->type && TiffType::Byte !== $this->type) {
            return null;
        }
        $text = $this->raw(min($this->count, self::LONGEST_TEXT));
        $end = strpos($text, "\0");
        $text = trim(false === $end ? $text : substr($text, 0, $end));
        $text = preg_replace('/[\x00-\x1F\x7F]+/', ' ', OlderText::utf8($text)) ?? '';

        return '' === $text ? null : $text;
    }

    /** Up to $most bytes as they are; none for other types. */
    public function bytes(int $most): string
    {
        return TiffType::Undefined === $this->type || TiffType::Byte === $this->type
            ? $this->raw(min($this->count, $most))
            : '';
    }

    /** The first value as an unsigned integer; null for other types. */
    public function integer(): ?int
    {
        return $this->integers(1)[0] ?? null;
    }

    /** The first value of a signed type; null for other types. */
    public function signed(): ?int
    {
        $width = match ($this->type) {
            TiffType::SignedByte => 1,
            TiffType::SignedShort => 2,
            TiffType::SignedLong => 4,
            default => null,
        };
        $raw = null === $width || 0 === $this->count ? '' : $this->raw($width);
        if (null === $width || \strlen($raw) < $width) {
            return null;
        }
        $value = TiffBlock::number($raw, 0, $width, $this->block->littleEndian);

        return $value >= 1 << 8 * $width - 1 ? $value - (1 << 8 * $width) : $value;
    }

    /** @return list<int> at most $most values */
    public function integers(int $most): array
    {
        $width = match ($this->type) {
            TiffType::Byte => 1,
            TiffType::Short => 2,
            TiffType::Long, TiffType::Ifd => 4,
            default => null,
        };
        if (null === $width) {
            return [];
        }

        return TiffBlock::numbers($this->raw($width * min($this->count, $most)), $width, $this->block->littleEndian);
    }

    /**
     * Values as rationals, numerator and denominator; none for other types. Both parts are signed for the signed type.
     *
     * @return list<array{int, int}> at most $most values
     */
    public function rationals(int $most): array
    {
        if (TiffType::Rational !== $this->type && TiffType::SignedRational !== $this->type) {
            return [];
        }
        $raw = $this->raw(8 * min($this->count, $most));
        $values = [];
        for ($at = 0; $at + 8 <= \strlen($raw); $at += 8) {
            $values[] = [$this->part($raw, $at), $this->part($raw, $at + 4)];
        }

        return $values;
    }

    /** Bytes of all values; those of a type that no standard names are taken for single ones. */
    public function size(): int
    {
        return $this->count * ($this->type?->width() ?? 1);
    }

    /** Where the values lie within the block; null where they stand in the entry itself. */
    public function offset(): ?int
    {
        return $this->size() <= 4 ? null : TiffBlock::number($this->field, 0, 4, $this->block->littleEndian);
    }

    /** The bytes of all values as they stand; null where there are more than $most or the block does not hold them. */
    public function value(int $most): ?string
    {
        $size = $this->size();
        if (null === $this->type || $size > $most) {
            return null;
        }
        $value = $this->raw($size);

        return \strlen($value) === $size ? $value : null;
    }

    /** Values as {@see self::value()} gives them, in little-endian order. */
    public function littleEndian(string $value): string
    {
        $width = match ($this->type) {
            TiffType::Rational, TiffType::SignedRational => 4,
            default => $this->type?->width() ?? 1,
        };

        return $this->block->littleEndian || 1 === $width || '' === $value
            ? $value
            : implode('', array_map(strrev(...), str_split($value, $width)));
    }

    /**
     * Where the values lie when they are bytes: an embedded file. Null for other types and for values in the entry
     * itself.
     */
    public function range(): ?ByteRange
    {
        return (TiffType::Undefined === $this->type || TiffType::Byte === $this->type) && $this->count > 4
            ? $this->block->range(
                TiffBlock::number($this->field, 0, 4, $this->block->littleEndian),
                $this->count,
            ) : null;
    }

    private function part(string $raw, int $at): int
    {
        $value = TiffBlock::number($raw, $at, 4, $this->block->littleEndian);

        return TiffType::SignedRational === $this->type && $value > 0x7FFFFFFF ? $value - 0x100000000 : $value;
    }

    private function raw(int $length): string
    {
        if (null === $this->type) {
            return '';
        }

        // values of four bytes or fewer stand in the entry itself (TIFF 6.0, "Value/Offset")
        return $this->count * $this->type->width() <= 4
            ? substr($this->field, 0, $length)
            : $this->block->read(TiffBlock::number($this->field, 0, 4, $this->block->littleEndian), $length);
    }
}
