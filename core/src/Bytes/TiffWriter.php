<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * Writes TIFF structures (TIFF 6.0, section 2): directories of fields, with sub-directories and picture data placed
 * before whatever points to them. The demo's cameras and the tests build their files with it, too.
 */
final class TiffWriter
{
    public const BYTE = 1;
    public const ASCII = 2;
    public const SHORT = 3;
    public const LONG = 4;
    public const RATIONAL = 5;
    public const UNDEFINED = 7;
    public const SIGNED_RATIONAL = 10;

    private string $bytes;

    /**
     * @param string|null $head what the structure begins with, in place of TIFF's own header; the first directory's
     *                          offset stands at 4
     */
    public function __construct(private readonly bool $littleEndian = true, ?string $head = null)
    {
        $this->bytes = $head ?? ($littleEndian ? "II\x2A\0" : "MM\0\x2A")."\0\0\0\0";
    }

    /**
     * Appends data that fields point to.
     *
     * @return int its offset
     */
    public function data(string $data): int
    {
        $this->bytes .= str_repeat("\0", \strlen($this->bytes) % 2);
        $offset = \strlen($this->bytes);
        $this->bytes .= $data;

        return $offset;
    }

    /**
     * Appends a directory.
     *
     * @param array<int, array{int, mixed}> $fields type and value (text, or a number, or a list; a rational is a pair)
     *                                              by tag
     * @param int                           $next   offset of the directory after it, 0 for none
     *
     * @return int its offset
     */
    public function directory(array $fields, int $next = 0): int
    {
        ksort($fields);
        $table = $this->number(\count($fields), 2);
        foreach ($fields as $tag => [$type, $value]) {
            $encoded = $this->encoded($type, $value);
            $count = intdiv(\strlen($encoded), TiffType::from($type)->width());
            $table .= $this->number($tag, 2).$this->number($type, 2).$this->number($count, 4)
                .(\strlen($encoded) <= 4 ? str_pad($encoded, 4, "\0") : $this->number($this->data($encoded), 4));
        }

        return $this->data($table.$this->number($next, 4));
    }

    /** The finished structure, its header pointing to the first directory. */
    public function finished(int $firstDirectory): string
    {
        return substr_replace($this->bytes, $this->number($firstDirectory, 4), 4, 4);
    }

    /** What was written so far, the place of the first directory not yet filled in. */
    public function unfinished(): string
    {
        return $this->bytes;
    }

    /** An unsigned integer of 1, 2 or 4 bytes in the structure's byte order. */
    public function number(int $value, int $width): string
    {
        return pack(match ($width) {
            1 => 'C',
            2 => $this->littleEndian ? 'v' : 'n',
            default => $this->littleEndian ? 'V' : 'N',
        }, $value);
    }

    private function encoded(int $type, mixed $value): string
    {
        if (\is_string($value)) {
            return self::ASCII === $type && !str_ends_with($value, "\0") ? $value."\0" : $value;
        }
        $encoded = '';
        foreach (\is_array($value) ? $value : [$value] as $number) {
            $encoded .= $this->number(
                \is_int($number) ? $number : throw new \ValueError('A field holds whole numbers.'),
                min(4, TiffType::from($type)->width()),
            );
        }

        return $encoded;
    }
}
