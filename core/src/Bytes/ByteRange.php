<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** A run of bytes within a file: an embedded picture, most often. */
final readonly class ByteRange
{
    /**
     * @param int<0, max> $offset from the start of the file, in bytes
     * @param int<1, max> $length in bytes
     */
    private function __construct(public int $offset, public int $length)
    {
    }

    /** Null where the range is empty or does not lie wholly within a file of $fileBytes bytes. */
    public static function within(int $fileBytes, int $offset, int $length): ?self
    {
        return $offset >= 0 && $length > 0 && $offset <= $fileBytes - $length ? new self($offset, $length) : null;
    }
}
