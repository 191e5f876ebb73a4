<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A TIFF structure (TIFF 6.0, section 2) lying somewhere in a file: the whole of a TIFF, or the Exif segment of a JPEG.
 * Offsets within it count from its own first byte.
 */
final class TiffBlock
{
    private const MOST_ENTRIES = 2000;
    /** Behind the byte order (TIFF 6.0, section 2). */
    private const VERSION = 42;

    /**
     * How a block may begin, and whether it is little-endian: TIFF 6.0, and the makers' own numbers in its place in ORF
     * (three of them) and in RW2 and RWL (well known).
     */
    private const HEADERS = [
        "II\x2A\0" => true,
        "MM\0\x2A" => false,
        'IIRO' => true,
        'IIRS' => true,
        'MMOR' => false,
        "IIU\0" => true,
    ];

    /** @var array<int, true> offsets of the IFDs read so far: one that comes again is a cycle */
    private array $seen = [];

    /** @param bool $isTiff whether its header is TIFF's own */
    private function __construct(
        private readonly FileBytes $bytes,
        public readonly int $base,
        public readonly int $length,
        public readonly bool $littleEndian,
        public readonly int $firstIfd,
        public readonly bool $isTiff,
    ) {
    }

    public static function isHeader(string $head): bool
    {
        return isset(self::HEADERS[substr($head, 0, 4)]);
    }

    /** Null where no TIFF header stands at $base. */
    public static function at(FileBytes $bytes, int $base, int $length): ?self
    {
        $header = $bytes->read($base, 8);
        if (8 !== \strlen($header)) {
            return null;
        }
        $littleEndian = self::HEADERS[substr($header, 0, 4)] ?? null;
        if (null === $littleEndian) {
            return null;
        }

        $first = self::number($header, 4, 4, $littleEndian);

        $isTiff = self::VERSION === self::number($header, 2, 2, $littleEndian);

        return new self($bytes, $base, $length, $littleEndian, $first, $isTiff);
    }

    /** A structure whose header is not TIFF's; offsets count from $base. */
    public static function inside(FileBytes $bytes, int $base, int $length, bool $littleEndian, int $firstIfd): self
    {
        return new self($bytes, $base, $length, $littleEndian, $firstIfd, false);
    }

    /**
     * The directory at $offset, as far as the block holds it; null where none lies there or it was read before, which
     * is a cycle.
     */
    public function ifd(int $offset): ?Ifd
    {
        if (isset($this->seen[$offset])) {
            return null;
        }
        $this->seen[$offset] = true;
        $directory = $this->directoryAt($offset);

        return true === $directory?->isEmpty() ? null : $directory;
    }

    /**
     * The whole directory at $offset, however often it is asked for.
     *
     * @throws StructureBroken
     */
    public function directory(int $offset): Ifd
    {
        $directory = $this->directoryAt($offset)
            ?? throw StructureBroken::because('a directory of its TIFF structure cannot be read');

        return $directory->isWhole
            ? $directory
            : throw StructureBroken::because('a directory of its TIFF structure breaks off');
    }

    private function directoryAt(int $offset): ?Ifd
    {
        if ($offset < 8 || $offset > $this->length - 6) {
            return null;
        }
        $count = self::number($this->read($offset, 2), 0, 2, $this->littleEndian);
        if ($count > self::MOST_ENTRIES) {
            return null;
        }
        $table = $this->read($offset + 2, 12 * $count + 4);

        return Ifd::of(
            $this,
            substr($table, 0, 12 * $count),
            self::number($table, 12 * $count, 4, $this->littleEndian),
            \strlen($table) >= 12 * $count,
        );
    }

    /** A part of the block as a part of the file; null where it does not lie within the file. */
    public function range(int $offset, int $length): ?ByteRange
    {
        return ByteRange::within($this->bytes->size(), $this->base + $offset, $length);
    }

    /** Bytes of the block, counted from its first; fewer where it ends. */
    public function read(int $offset, int $length): string
    {
        return $offset < 0 ? '' : $this->bytes->read($this->base + $offset, min($length, $this->length - $offset));
    }

    /** An unsigned integer of 1, 2 or 4 bytes in the block's byte order; 0 where the bytes are not there. */
    public static function number(string $bytes, int $at, int $width, bool $littleEndian): int
    {
        if ($at < 0 || !isset($bytes[$at + $width - 1])) {
            return 0;
        }
        if (2 === $width) {
            return $littleEndian
                ? \ord($bytes[$at]) | \ord($bytes[$at + 1]) << 8
                : \ord($bytes[$at]) << 8 | \ord($bytes[$at + 1]);
        }
        $value = 0;
        if ($littleEndian) {
            for ($from = $at + $width - 1; $from >= $at; --$from) {
                $value = $value << 8 | \ord($bytes[$from]);
            }
        } else {
            for ($from = $at, $end = $at + $width; $from < $end; ++$from) {
                $value = $value << 8 | \ord($bytes[$from]);
            }
        }

        return $value;
    }

    /**
     * As many unsigned integers of 1, 2 or 4 bytes as $bytes hold wholly.
     *
     * @return list<int>
     */
    public static function numbers(string $bytes, int $width, bool $littleEndian): array
    {
        $format = match ($width) {
            1 => 'C*',
            2 => $littleEndian ? 'v*' : 'n*',
            4 => $littleEndian ? 'V*' : 'N*',
            default => throw new \LogicException('There is no integer of '.$width.' bytes in a TIFF structure.'),
        };
        /** @var array<int, int>|false $numbers */
        $numbers = unpack($format, $bytes);

        return false === $numbers ? [] : array_values($numbers);
    }
}
