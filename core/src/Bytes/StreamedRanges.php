<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** XXH128 of ranges of a file, in the order in which they lie in it, while it is read for another purpose. */
final class StreamedRanges
{
    private int $at = 0;
    private int $next = 0;
    private readonly RunningDigests $digests;

    /** @param list<ByteRange> $ranges */
    private function __construct(private readonly array $ranges)
    {
        $this->digests = new RunningDigests();
    }

    /**
     * @param list<ByteRange> $ranges in any order
     *
     * @return self|null null where they overlap
     */
    public static function of(array $ranges): ?self
    {
        usort($ranges, static fn (ByteRange $one, ByteRange $other): int => $one->offset <=> $other->offset);

        return ByteRange::areInOrder($ranges) ? new self($ranges) : null;
    }

    public function update(string $chunk): void
    {
        $end = $this->at + \strlen($chunk);
        while (null !== $range = $this->ranges[$this->next] ?? null) {
            $part = $range->cut($chunk, $this->at);
            if ('' !== $part) {
                $this->digests->update($part);
            }
            if ($range->offset + $range->length > $end) {
                break;
            }
            ++$this->next;
        }
        $this->at = $end;
    }

    /** @return string hexadecimal */
    public function finished(): string
    {
        return $this->digests->finished()->content->hex;
    }
}
