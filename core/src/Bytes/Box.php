<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A box of the ISO base media file format (ISO 14496-12, 4.2): a length, a type of four characters, and a payload.
 * Big-endian.
 */
final readonly class Box
{
    private const MOST = 2000;

    /**
     * @param int  $start   of the payload, in the file
     * @param int  $length  of the payload as far as it is there
     * @param bool $isWhole whether all of it is there
     */
    private function __construct(
        private FileBytes $bytes,
        public string $type,
        public int $start,
        public int $length,
        public bool $isWhole,
    ) {
    }

    /**
     * The boxes that lie within a range of the file, in order; a broken one ends the list.
     *
     * @return list<self>
     */
    public static function within(FileBytes $bytes, int $start, int $length): array
    {
        $boxes = [];
        $end = min($bytes->size(), $start + $length);
        for ($at = $start; $at + 8 <= $end && \count($boxes) < self::MOST; $at += $size) {
            $header = $bytes->read($at, 16);
            $size = TiffBlock::number($header, 0, 4, false);
            $head = 8;
            if (1 === $size) { // the length follows in 64 bits
                $high = TiffBlock::number($header, 8, 4, false);
                $size = $high > 0x7FFF ? 0 : $high << 32 | TiffBlock::number($header, 12, 4, false);
                $head = 16;
            } elseif (0 === $size) { // to the end
                $size = $end - $at;
            }
            if ($size < $head) {
                break;
            }
            $boxes[] = new self(
                $bytes,
                substr($header, 4, 4),
                $at + $head,
                min($size, $end - $at) - $head,
                $at + $size <= $end,
            );
        }

        return $boxes;
    }

    /** Up to $length bytes of the payload from $offset. */
    public function read(int $offset, int $length): string
    {
        return $this->bytes->read($this->start + $offset, min($length, $this->length - $offset));
    }

    /** An unsigned integer of the payload; 0 where it ends before. */
    public function number(int $offset, int $width): int
    {
        return TiffBlock::number($this->read($offset, $width), 0, $width, false);
    }

    /** @return list<self> the boxes in the payload from $skip on */
    public function children(int $skip = 0): array
    {
        return self::within($this->bytes, $this->start + $skip, $this->length - $skip);
    }

    /** The first box of this type among the children. */
    public function child(string $type, int $skip = 0): ?self
    {
        foreach ($this->children($skip) as $box) {
            if ($box->type === $type) {
                return $box;
            }
        }

        return null;
    }

    /** The first JPEG in the payload that begins within its first bytes and reaches to its end. */
    public function jpeg(): ?ByteRange
    {
        $at = strpos($this->read(0, 64), "\xFF\xD8\xFF");

        return false === $at ? null : ByteRange::within($this->bytes->size(), $this->start + $at, $this->length - $at);
    }
}
