<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\TiffBlock;

/**
 * Reads the directories of a TIFF structure (TIFF 6.0, section 2) field by field, as they are to be written again in
 * little-endian order.
 */
final readonly class TiffFields
{
    private const MOST_BYTES = 64 * 1024 * 1024;

    private function __construct(private TiffBlock $block, private int $mostBytes)
    {
    }

    /**
     * @param int $mostBytes larger fields are left out
     * @param int $base      where the structure begins; its offsets count from there
     *
     * @throws DngRefused
     */
    public static function of(FileBytes $bytes, int $mostBytes = self::MOST_BYTES, int $base = 0): self
    {
        $block = TiffBlock::at($bytes, $base, $bytes->size() - $base)
            ?? throw DngRefused::unknownRaw('it is no TIFF structure');

        return new self($block, $mostBytes);
    }

    public function first(): int
    {
        return $this->block->firstIfd;
    }

    public function isLittleEndian(): bool
    {
        return $this->block->littleEndian;
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
        try {
            $directory = $this->block->directory($offset);
        } catch (StructureBroken) {
            throw DngRefused::structure('a directory is broken');
        }

        return $directory->isEmpty()
            ? throw DngRefused::structure('a directory is broken')
            : [$directory->copied($this->mostBytes), $directory->next];
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
}
