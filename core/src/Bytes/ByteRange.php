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

    /** What a piece of the file holds of the range; $at is where the piece begins in the file. */
    public function cut(string $piece, int $at): string
    {
        $from = max($this->offset, $at);
        $to = min($this->offset + $this->length, $at + \strlen($piece));
        if ($from >= $to) {
            return '';
        }

        return $from === $at && $to - $from === \strlen($piece) ? $piece : substr($piece, $from - $at, $to - $from);
    }

    /**
     * Whether each begins where the one before ends or later, so that all of them come by when the file is read once.
     *
     * @param list<self> $ranges
     */
    public static function areInOrder(array $ranges): bool
    {
        $at = 0;
        foreach ($ranges as $range) {
            if ($range->offset < $at) {
                return false;
            }
            $at = $range->offset + $range->length;
        }

        return true;
    }
}
