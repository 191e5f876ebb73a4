<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * Changes fields of a TIFF structure (TIFF 6.0, section 2) without moving anything that is there: a value that fits the
 * place of the old one goes there, others and directories that grow go behind the end, and what pointed to them is set
 * right. So picture data, maker notes and offsets that nobody knows of stay good. What is asked for is gathered, and
 * each directory is written once.
 */
final class TiffEdit
{
    private const EXIF_IFD = 0x8769;
    private const SUB_IFDS = 0x014A;
    /** Fields that hold offsets, with those that tell how long they are: strips, tiles, embedded JPEG. */
    private const PICTURES = [273 => 279, 324 => 325, 513 => 514];
    private const MOST_NUMBERS = 1_000_000;
    private const ENTRY = 12;

    /** @var array<int, array{TiffType, string}> by tag; empty bytes take the field out */
    private array $first = [];
    /** @var array<int, array{TiffType, string}> */
    private array $exif = [];

    private function __construct(private readonly TiffBlock $block)
    {
    }

    /**
     * @param int $base   where the structure begins in the file
     * @param int $length of it, in bytes
     *
     * @throws StructureBroken
     */
    public static function of(FileBytes $bytes, int $base, int $length): self
    {
        $block = TiffBlock::at($bytes, $base, $length);

        return true === $block?->isTiff
            ? new self($block)
            : throw StructureBroken::because('it has no TIFF header that is known');
    }

    public function isLittleEndian(): bool
    {
        return $this->block->littleEndian;
    }

    /**
     * A field of the first directory.
     *
     * @param string $bytes in the structure's order; empty takes it out
     */
    public function set(int $tag, TiffType $type, string $bytes): void
    {
        $this->first[$tag] = [$type, $bytes];
    }

    /** A field of the Exif directory, which is made where it is missing. */
    public function setInExif(int $tag, TiffType $type, string $bytes): void
    {
        $this->exif[$tag] = [$type, $bytes];
    }

    /**
     * The bytes of a field of the first directory, or of the Exif directory, as they are in the file.
     *
     * @throws StructureBroken
     */
    public function value(int $tag, bool $inExif = false): ?string
    {
        $directory = $inExif ? $this->exifDirectory() : $this->directory($this->block->firstIfd);

        return $directory?->entry($tag)?->value($this->block->length);
    }

    /**
     * Where strips, tiles and embedded JPEGs of all directories lie.
     *
     * @return list<array{int, int}> offset and length
     *
     * @throws StructureBroken
     */
    public function pictures(): array
    {
        $pictures = $seen = [];
        $todo = [$this->block->firstIfd];
        while ([] !== $todo) {
            $offset = array_shift($todo);
            if (0 === $offset || isset($seen[$offset])) {
                continue;
            }
            $seen[$offset] = true;
            $directory = $this->directory($offset);
            foreach (self::PICTURES as $where => $howLong) {
                $lengths = $directory->integers($howLong, self::MOST_NUMBERS);
                foreach ($directory->integers($where, self::MOST_NUMBERS) as $i => $at) {
                    $pictures[] = [$at, $lengths[$i] ?? 0];
                }
            }
            array_push($todo, ...$directory->integers(self::SUB_IFDS, self::MOST_NUMBERS));
            $todo[] = $directory->next;
        }

        return $pictures;
    }

    /**
     * @return array{array<int, string>, string} bytes by the offset at which they replace what is there, within the
     *     structure and in order; and what comes behind its end
     *
     * @throws StructureBroken
     */
    public function changes(): array
    {
        if ([] === $this->first && [] === $this->exif) {
            return [[], '']; // what is broken stays as it is
        }
        $patches = [];
        $tail = '';
        $first = $this->first;
        if ([] !== $this->exif) {
            $pointer = $this->exifDirectory();
            $at = null === $pointer ? null : $this->directory($this->block->firstIfd)->integer(self::EXIF_IFD);
            $moved = $this->written($at, $this->exif, $patches, $tail);
            if ($moved !== $at) {
                $first[self::EXIF_IFD] = [TiffType::Long, $this->number($moved)];
            }
        }
        $moved = $this->written($this->block->firstIfd, $first, $patches, $tail);
        if ($moved !== $this->block->firstIfd) {
            $patches[4] = $this->number($moved);
        }
        ksort($patches);

        return [$patches, $tail];
    }

    /**
     * The whole structure, changed; for those that are held in memory.
     *
     * @throws StructureBroken
     */
    public function bytes(): string
    {
        [$patches, $tail] = $this->changes();
        $bytes = $this->block->read(0, $this->block->length);
        foreach ($patches as $offset => $patch) {
            $bytes = substr_replace($bytes, $patch, $offset, \strlen($patch));
        }

        return $bytes.$tail;
    }

    /** A number of 4 bytes in the structure's order. */
    public function number(int $number): string
    {
        return pack($this->block->littleEndian ? 'V' : 'N', $number);
    }

    /** A number of 2 bytes in the structure's order. */
    public function short(int $number): string
    {
        return pack($this->block->littleEndian ? 'v' : 'n', $number);
    }

    /**
     * Writes a directory with other fields.
     *
     * @param int|null                            $offset  null where there is no directory yet
     * @param array<int, array{TiffType, string}> $fields
     * @param array<int, string>                  $patches
     *
     * @return int where the directory is then
     */
    private function written(?int $offset, array $fields, array &$patches, string &$tail): int
    {
        $directory = null === $offset ? null : $this->directory($offset);
        $entries = $directory?->raw() ?? [];
        $places = array_flip(array_keys($entries));
        $grows = null === $offset;
        $changed = [];
        foreach ($fields as $tag => [$type, $value]) {
            $old = $directory?->entry($tag);
            if ('' === $value) {
                $grows = $grows || null !== $old;
                unset($entries[$tag]);
                continue;
            }
            $grows = $grows || null === $old;
            $count = intdiv(\strlen($value), $type->width());
            $room = $this->room($old);
            if (\strlen($value) <= 4) {
                $place = str_pad($value, 4, "\0");
            } elseif (null !== $room && \strlen($value) <= $room[1]) {
                $place = $this->number($room[0]);
                $patches[$room[0]] = str_pad($value, $room[1], "\0");
            } else {
                $place = $this->number($this->append($value, $tail));
            }
            $entries[$tag] = $this->short($tag).$this->short($type->value).$this->number($count).$place;
            $changed[$tag] = $entries[$tag];
        }
        if (!$grows && null !== $offset) {
            foreach ($changed as $tag => $entry) {
                $patches[$offset + 2 + self::ENTRY * $places[$tag]] = $entry;
            }

            return $offset;
        }
        ksort($entries); // fields stand in ascending order (TIFF 6.0, section 2)

        return $this->append(
            $this->short(\count($entries)).implode('', $entries).$this->number($directory->next ?? 0),
            $tail,
        );
    }

    /** @return array{int, int}|null where the old value lies and how many bytes it has, if not in the entry itself */
    private function room(?IfdEntry $old): ?array
    {
        $offset = $old?->offset();
        $size = $old?->size() ?? 0;

        return null !== $offset && $offset >= 8 && $offset + $size <= $this->block->length ? [$offset, $size] : null;
    }

    private function exifDirectory(): ?Ifd
    {
        $offset = $this->directory($this->block->firstIfd)->integer(self::EXIF_IFD);

        return null === $offset ? null : $this->directory($offset);
    }

    /** @throws StructureBroken */
    private function directory(int $offset): Ifd
    {
        $directory = $this->block->directory($offset);
        if (null !== $directory->twice) {
            throw StructureBroken::because(
                \sprintf('a directory of its TIFF structure holds the field 0x%04X twice', $directory->twice),
            );
        }

        return $directory;
    }

    /** @return int the offset at which the bytes will lie: even, as TIFF 6.0 asks */
    private function append(string $bytes, string &$tail): int
    {
        if (1 === ($this->block->length + \strlen($tail)) % 2) {
            $tail .= "\0";
        }
        $offset = $this->block->length + \strlen($tail);
        $tail .= $bytes;

        return $offset;
    }
}
