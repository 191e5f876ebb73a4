<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** A chunk of a PNG (ISO/IEC 15948, 5.3): length, type, data and a checksum, numbers big-endian. */
final readonly class PngChunk
{
    /** Bytes of length, type and checksum. */
    public const FRAME = 12;

    /**
     * @param int $start  where it begins in the file
     * @param int $length of its data, in bytes
     */
    public function __construct(public string $type, public int $start, public int $length)
    {
    }

    public function data(): int
    {
        return $this->start + 8;
    }

    /** Where the next one begins. */
    public function end(): int
    {
        return $this->start + self::FRAME + $this->length;
    }

    /** The bytes of a chunk. */
    public static function bytes(string $type, string $data): string
    {
        return pack('N', \strlen($data)).$type.$data.pack('N', crc32($type.$data));
    }
}
