<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * The blocks of an MRW (well known): behind `\0MRM` and the bytes that all of them take, each with a name of 4 bytes,
 * a length of 4 and its payload. Numbers are big-endian.
 */
final readonly class MrwBlocks
{
    public const SIGNATURE = "\0MRM";
    /** The picture's size. */
    public const PICTURE = "\0PRD";
    /** A TIFF structure. */
    public const TIFF = "\0TTW";
    private const HEADER = 8;
    private const MOST = 100;

    /**
     * @param array<string, ByteRange> $blocks payloads by name
     * @param int                      $end    where the sensor's data begin
     */
    private function __construct(public array $blocks, public int $end)
    {
    }

    public static function of(FileBytes $bytes): self
    {
        $end = self::HEADER + TiffBlock::number($bytes->read(4, 4), 0, 4, false);
        $blocks = [];
        $at = self::HEADER;
        for ($n = 0; $at + self::HEADER <= min($end, $bytes->size()) && $n < self::MOST; ++$n) {
            $header = $bytes->read($at, self::HEADER);
            $length = TiffBlock::number($header, 4, 4, false);
            $payload = ByteRange::within($bytes->size(), $at + self::HEADER, $length);
            if (null !== $payload) {
                $blocks[substr($header, 0, 4)] ??= $payload;
            }
            $at += self::HEADER + $length;
        }

        return new self($blocks, $end);
    }
}
