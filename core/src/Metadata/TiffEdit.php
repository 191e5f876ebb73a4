<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\TiffType;

/**
 * Changes fields of a TIFF structure (TIFF 6.0, section 2) without moving anything that is there: a new value goes into
 * the place of the old one where it fits, else behind the end; a directory that gets more fields is written anew behind
 * the end. So the offsets in maker notes, strips and tiles stay true. The whole is a few patches and a tail, for a file
 * of any size.
 */
final class TiffEdit
{
    public const ASCII = 2;
    public const BYTE = 1;
    public const LONG = 4;
    public const UNDEFINED = 7;

    private const EXIF_IFD = 0x8769;
    private const SUB_IFDS = 330;
    /** Fields that tell where pictures begin, and those that tell how long they are: strips, tiles, embedded JPEG. */
    private const PICTURES = [273 => 279, 324 => 325, 513 => 514];
    private const MOST_ENTRIES = 2000;
    private const MOST_NUMBERS = 1_000_000;

    /** @var array<int, string> bytes by the offset at which they replace what is there */
    public array $patches = [];
    /** What comes behind the end. */
    public string $tail = '';

    /**
     * @param \Closure(int, int): string $read   bytes at an offset, of a length; fewer at the end
     * @param int                        $length of the structure, in bytes
     */
    private function __construct(
        private readonly \Closure $read,
        private readonly int $length,
        private readonly bool $littleEndian,
        private int $first,
    ) {
    }

    /**
     * @param \Closure(int, int): string $read
     *
     * @throws MetadataRefused
     */
    public static function of(\Closure $read, int $length): self
    {
        $head = $read(0, 8);
        $littleEndian = match (\strlen($head) < 8 ? '' : substr($head, 0, 4)) {
            "II\x2A\0" => true,
            "MM\0\x2A" => false,
            default => throw MetadataRefused::structure('it has no TIFF header that is known'),
        };
        $first = unpack($littleEndian ? 'V' : 'N', substr($head, 4, 4))[1] ?? 0;

        return new self($read, $length, $littleEndian, \is_int($first) ? $first : 0);
    }

    /**
     * @param array<int, array{int, string}> $first fields of the first directory by tag: type, and bytes in the
     *                                              structure's order; empty bytes take it out
     * @param array<int, array{int, string}> $exif  those of the Exif directory, which is made where it is missing
     *
     * @throws MetadataRefused
     */
    public function set(array $first, array $exif = []): void
    {
        if ([] !== $exif) {
            $entries = $this->entries($this->first);
            $pointer = isset($entries[self::EXIF_IFD]) ? $this->number($entries[self::EXIF_IFD], 8) : null;
            $moved = $this->directory($pointer, $exif);
            if ($moved !== $pointer && null !== $moved) {
                $first[self::EXIF_IFD] = [self::LONG, $this->packed($moved)];
            }
        }
        $moved = $this->directory($this->first, $first);
        if (null !== $moved && $moved !== $this->first) {
            $this->patches[4] = $this->packed($moved);
            $this->first = $moved;
        }
    }

    /** The bytes of a field of the first directory, or of the Exif directory. */
    public function value(int $tag, bool $inExif = false): ?string
    {
        $entries = $this->entries($this->first);
        if ($inExif) {
            $entries = isset($entries[self::EXIF_IFD])
                ? $this->entries($this->number($entries[self::EXIF_IFD], 8))
                : [];
        }
        $entry = $entries[$tag] ?? null;
        if (null === $entry) {
            return null;
        }
        $size = $this->sizeOf($entry);

        return $size <= 4 ? substr($entry, 8, $size) : $this->at($this->number($entry, 8), min($size, $this->length));
    }

    /**
     * Where strips, tiles and embedded JPEGs of all directories lie.
     *
     * @return list<array{int, int}> offset and length
     *
     * @throws MetadataRefused
     */
    public function pictures(): array
    {
        $pictures = $seen = [];
        $todo = [$this->first];
        while ([] !== $todo) {
            $offset = array_shift($todo);
            if (0 === $offset || isset($seen[$offset])) {
                continue;
            }
            $seen[$offset] = true;
            $entries = $this->entries($offset);
            foreach (self::PICTURES as $where => $howLong) {
                $lengths = $this->numbers($entries[$howLong] ?? '');
                foreach ($this->numbers($entries[$where] ?? '') as $i => $at) {
                    $pictures[] = [$at, $lengths[$i] ?? 0];
                }
            }
            array_push(
                $todo,
                ...$this->numbers($entries[self::SUB_IFDS] ?? ''),
                ...$this->numbers($this->next($offset, \count($entries))),
            );
        }

        return $pictures;
    }

    /** The whole structure, changed; for those that are held in memory. */
    public function bytes(): string
    {
        $bytes = ($this->read)(0, $this->length);
        foreach ($this->patches as $offset => $patch) {
            $bytes = substr_replace($bytes, $patch, $offset, \strlen($patch));
        }

        return $bytes.$this->tail;
    }

    /** A number of 4 bytes in the structure's order. */
    public function packed(int $number): string
    {
        return pack($this->littleEndian ? 'V' : 'N', $number);
    }

    /**
     * @param int|null                       $offset null where there is no directory yet
     * @param array<int, array{int, string}> $fields
     *
     * @return int|null where the directory is now
     */
    private function directory(?int $offset, array $fields): ?int
    {
        $entries = null === $offset ? [] : $this->entries($offset);
        $isMoved = false;
        foreach ($fields as $tag => [$type, $value]) {
            $old = $entries[$tag] ?? null;
            if ('' === $value) {
                $isMoved = $isMoved || null !== $old;
                unset($entries[$tag]);
                continue;
            }
            $count = intdiv(\strlen($value), TiffType::from($type)->width());
            $room = null === $old ? 0 : $this->roomOf($old);
            if (\strlen($value) <= 4) {
                $place = str_pad($value, 4, "\0");
            } elseif (null !== $old && $room > 4 && \strlen($value) <= $room) {
                $place = substr($old, 8, 4);
                $this->patches[$this->number($old, 8)] = str_pad($value, $room, "\0");
            } else {
                $place = $this->packed($this->append($value));
            }
            $entries[$tag] = pack($this->littleEndian ? 'vv' : 'nn', $tag, $type).$this->packed($count).$place;
            if (null === $old) {
                $isMoved = true;
            } elseif (!$isMoved && null !== $offset) {
                $this->patches[$offset + 2 + 12 * (int) array_search($tag, array_keys($entries), true)] = $entries[$tag];
            }
        }
        if (!$isMoved) {
            return $offset;
        }
        $next = null === $offset ? "\0\0\0\0" : $this->at($offset + 2 + 12 * \count($this->entries($offset)), 4);
        ksort($entries); // fields stand in ascending order (TIFF 6.0, section 2)

        return $this->append(
            pack($this->littleEndian ? 'v' : 'n', \count($entries)).implode('', $entries).str_pad($next, 4, "\0"),
        );
    }

    /**
     * @return array<int, string> entries of 12 bytes by tag, in the order in which they stand
     *
     * @throws MetadataRefused
     */
    private function entries(int $offset): array
    {
        $bytes = $this->at($offset, 2);
        $count = \strlen($bytes) < 2 ? null : unpack($this->littleEndian ? 'v' : 'n', $bytes)[1] ?? null;
        if (!\is_int($count) || $count > self::MOST_ENTRIES || $offset < 8) {
            throw MetadataRefused::structure('a directory of its TIFF structure cannot be read');
        }
        $table = $this->at($offset + 2, 12 * $count);
        if (\strlen($table) < 12 * $count) {
            throw MetadataRefused::structure('a directory of its TIFF structure breaks off');
        }
        $entries = [];
        foreach (0 === $count ? [] : str_split($table, 12) as $entry) {
            $tag = unpack($this->littleEndian ? 'v' : 'n', $entry)[1] ?? 0;
            if (\is_int($tag) && isset($entries[$tag])) {
                throw MetadataRefused::structure(
                    \sprintf('a directory of its TIFF structure holds the field 0x%04X twice', $tag),
                );
            }
            $entries[\is_int($tag) ? $tag : 0] = $entry;
        }

        return $entries;
    }

    /** The field that leads to the directory behind one, as if it were an entry. */
    private function next(int $offset, int $count): string
    {
        return pack(
            $this->littleEndian ? 'vv' : 'nn',
            0,
            self::LONG,
        ).$this->packed(1).str_pad($this->at($offset + 2 + 12 * $count, 4), 4, "\0");
    }

    /** @return list<int> values of an entry of 2 or 4 bytes each; none of an empty one */
    private function numbers(string $entry): array
    {
        if ('' === $entry) {
            return [];
        }
        $size = min($this->sizeOf($entry), 4 * self::MOST_NUMBERS);
        $bytes = $size <= 4 ? substr($entry, 8, $size) : $this->at($this->number($entry, 8), $size);
        $isShort = 3 === (unpack($this->littleEndian ? 'v' : 'n', $entry, 2)[1] ?? 0);
        $numbers = unpack(
            ($isShort ? ($this->littleEndian ? 'v' : 'n') : ($this->littleEndian ? 'V' : 'N')).'*',
            $bytes,
        );

        return array_values(array_filter(false === $numbers ? [] : $numbers, is_int(...)));
    }

    private function at(int $offset, int $length): string
    {
        return $offset >= $this->length
            ? substr($this->tail, $offset - $this->length, $length)
            : ($this->read)($offset, $length);
    }

    /** Bytes of the place that an entry's value has now; 0 where it does not lie within the structure. */
    private function roomOf(string $entry): int
    {
        $size = $this->sizeOf($entry);

        return $size > 4 && $this->number($entry, 8) >= 8 && $this->number($entry, 8) + $size <= $this->length
            ? $size
            : 0;
    }

    private function sizeOf(string $entry): int
    {
        $type = unpack($this->littleEndian ? 'v' : 'n', $entry, 2)[1] ?? 0;

        return (TiffType::tryFrom(\is_int($type) ? $type : 0)?->width() ?? 1) * $this->number($entry, 4);
    }

    private function number(string $bytes, int $at): int
    {
        $number = unpack($this->littleEndian ? 'V' : 'N', $bytes, $at)[1] ?? 0;

        return \is_int($number) ? $number : 0;
    }

    /** @return int the offset at which the bytes will lie: even, as TIFF 6.0 asks */
    private function append(string $bytes): int
    {
        if (1 === ($this->length + \strlen($this->tail)) % 2) {
            $this->tail .= "\0";
        }
        $offset = $this->length + \strlen($this->tail);
        $this->tail .= $bytes;

        return $offset;
    }
}
