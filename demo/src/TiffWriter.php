<?php

declare(strict_types=1);

namespace Velvet\Demo;

/**
 * Writes TIFF structures, little-endian (TIFF 6.0, section 2): directories of fields, with sub-directories and picture data
 * placed behind them.
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

    private const WIDTHS = [1 => 1, 2 => 1, 3 => 2, 4 => 4, 5 => 8, 7 => 1, 10 => 8];

    private string $bytes = "II\x2A\0\x08\0\0\0";

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
     * @param array<int, array{int, mixed}> $fields type and value (text, or a number, or a list; a rational is a pair) by tag
     * @param int                           $next   offset of the directory after it, 0 for none
     *
     * @return int its offset
     */
    public function directory(array $fields, int $next = 0): int
    {
        ksort($fields);
        $table = pack('v', \count($fields));
        foreach ($fields as $tag => [$type, $value]) {
            $encoded = self::encoded($type, $value);
            $count = intdiv(\strlen($encoded), self::WIDTHS[$type]);
            $table .= pack('vvV', $tag, $type, $count).(\strlen($encoded) <= 4 ? str_pad($encoded, 4, "\0") : pack('V', $this->data($encoded)));
        }

        return $this->data($table.pack('V', $next));
    }

    /** The finished structure, its header pointing to the first directory. */
    public function finished(int $firstDirectory): string
    {
        return substr_replace($this->bytes, pack('V', $firstDirectory), 4, 4);
    }

    private static function encoded(int $type, mixed $value): string
    {
        if (\is_string($value)) {
            return self::ASCII === $type ? $value."\0" : $value;
        }
        $values = \is_array($value) ? $value : [$value];
        if (self::RATIONAL === $type || self::SIGNED_RATIONAL === $type) {
            return pack('V*', ...$values);
        }

        return pack(match ($type) {
            self::SHORT => 'v*', self::LONG => 'V*', default => 'C*',
        }, ...$values);
    }
}
