<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

/** Writes TIFF structures for tests, from their ends to their beginning: what is pointed to is put down first. */
final class TiffFile
{
    public const BYTE = 1;
    public const ASCII = 2;
    public const SHORT = 3;
    public const LONG = 4;
    public const RATIONAL = 5;
    public const UNDEFINED = 7;
    public const SRATIONAL = 10;
    private const WIDTHS = [1 => 1, 2 => 1, 3 => 2, 4 => 4, 5 => 8, 7 => 1, 10 => 8];

    private string $bytes;

    /** @param string $head what a file begins with, up to the offset of its first directory, which stands at 4 */
    public function __construct(private readonly bool $little = true, ?string $head = null)
    {
        $this->bytes = $head ?? ($little ? "II\x2A\0" : "MM\0\x2A")."\0\0\0\0";
    }

    /** @return int where the data lies */
    public function put(string $data): int
    {
        $this->bytes .= str_repeat("\0", \strlen($this->bytes) % 2);
        $at = \strlen($this->bytes);
        $this->bytes .= $data;

        return $at;
    }

    /**
     * @param array<int, array{int, list<int>|string}> $fields type and values by tag; rationals as pairs of numbers, one after the other
     *
     * @return int where the directory lies
     */
    public function directory(array $fields, int $next = 0): int
    {
        ksort($fields);
        $table = $this->number(\count($fields), 2);
        foreach ($fields as $tag => [$type, $values]) {
            $data = \is_string($values) ? $values.(self::ASCII === $type ? "\0" : '')
                : implode('', array_map(fn (int $value): string => $this->number($value, min(4, self::WIDTHS[$type])), $values));
            $table .= $this->number($tag, 2).$this->number($type, 2).$this->number(intdiv(\strlen($data), self::WIDTHS[$type]), 4);
            $table .= \strlen($data) <= 4 ? str_pad($data, 4, "\0") : $this->number($this->put($data), 4);
        }

        return $this->put($table.$this->number($next, 4));
    }

    public function finish(int $first): string
    {
        return substr_replace($this->bytes, $this->number($first, 4), 4, 4);
    }

    /** What was put down so far, the first directory's place not yet filled in. */
    public function bytes(): string
    {
        return $this->bytes;
    }

    public function number(int $value, int $width): string
    {
        $format = [1 => ['C', 'C'], 2 => ['v', 'n'], 4 => ['V', 'N']][$width] ?? throw new \ValueError('No such width.');

        return pack($format[$this->little ? 0 : 1], $value);
    }
}
