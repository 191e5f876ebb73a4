<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\TiffType;

/**
 * Reads the directories of a TIFF structure (TIFF 6.0, section 2) field by field, as they are to be written again in
 * little-endian order.
 */
final readonly class TiffFields
{
    private const MOST_FIELDS = 1000;
    private const MOST_BYTES = 64 * 1024 * 1024;
    private const ONE_BYTE = [1, 2, 6, 7];

    private function __construct(
        private FileBytes $bytes,
        public bool $littleEndian,
        public int $first,
        private int $mostBytes,
        private int $base,
    ) {
    }

    /**
     * @param int $mostBytes larger fields are left out
     * @param int $base      where the structure begins; its offsets count from there
     *
     * @throws DngRefused
     */
    public static function of(FileBytes $bytes, int $mostBytes = self::MOST_BYTES, int $base = 0): self
    {
        $head = $bytes->read($base, 8);
        $littleEndian = match (substr($head, 0, 4)) {
            "II\x2A\0", 'IIRO', 'IIRS', "II\x55\0" => true, // TIFF, and the two makers' own marks in its place
            "MM\0\x2A", 'MMOR' => false,
            default => throw DngRefused::unknownRaw('it is no TIFF structure'),
        };

        return new self($bytes, $littleEndian, self::number($head, 4, 4, $littleEndian), $mostBytes, $base);
    }

    /**
     * The fields of a directory, and behind them the offset of the next one (0 for none).
     *
     * @return array{array<int, array{int, string}>, int} type and bytes (little-endian) by tag; fields that lie outside
     *     the file are left out
     *
     * @throws DngRefused
     */
    public function directory(int $offset): array
    {
        $count = self::number($this->bytes->read($this->base + $offset, 2), 0, 2, $this->littleEndian);
        $table = $this->bytes->read($this->base + $offset + 2, 12 * $count + 4);
        if ($offset < 8 || 0 === $count || $count > self::MOST_FIELDS || \strlen($table) < 12 * $count) {
            throw DngRefused::structure('a directory is broken');
        }
        $fields = [];
        for ($at = 0; $at < 12 * $count; $at += 12) {
            $type = self::number($table, $at + 2, 2, $this->littleEndian);
            $width = TiffType::tryFrom($type)?->width();
            $length = null === $width ? 0 : $width * self::number($table, $at + 4, 4, $this->littleEndian);
            if (null === $width || $length > $this->mostBytes) {
                continue;
            }
            $value = $length <= 4
                ? substr($table, $at + 8, $length)
                : $this->bytes->read($this->base + self::number($table, $at + 8, 4, $this->littleEndian), $length);
            if (\strlen($value) === $length) {
                $fields[self::number($table, $at, 2, $this->littleEndian)] ??= [$type, $this->turned($value, $type)];
            }
        }

        return [$fields, self::number($table, 12 * $count, 4, $this->littleEndian)];
    }

    /**
     * Whole numbers of a field.
     *
     * @param array<int, array{int, string}> $fields as {@see directory()} gives them
     *
     * @return list<int>
     */
    public static function integers(array $fields, int $tag): array
    {
        [$type, $bytes] = $fields[$tag] ?? [0, ''];
        $format = [1 => 'C*', 3 => 'v*', 4 => 'V*', 13 => 'V*'][$type] ?? null;

        return null === $format || '' === $bytes
            ? []
            : array_values(array_filter((array) unpack($format, $bytes), is_int(...)));
    }

    /** @param array<int, array{int, string}> $fields */
    public static function integer(array $fields, int $tag, int $else): int
    {
        return self::integers($fields, $tag)[0] ?? $else;
    }

    private function turned(string $value, int $type): string
    {
        if ($this->littleEndian || \in_array($type, self::ONE_BYTE, true)) {
            return $value;
        }
        $width = \in_array($type, [5, 10], true) ? 4 : TiffType::from($type)->width();

        return implode('', array_map(strrev(...), '' === $value ? [] : str_split($value, $width)));
    }

    private static function number(string $bytes, int $at, int $width, bool $littleEndian): int
    {
        return TiffBlock::number($bytes, $at, $width, $littleEndian);
    }
}
