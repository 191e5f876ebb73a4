<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * What a picture looks like in 128 bits: at eight by eight places, whether it grows brighter to the right and down. Of
 * two pictures of one scene few bits differ, also where the light, the grain or the camera's stand is a little
 * different. A difference hash: common practice for finding pictures that are alike.
 */
final readonly class Likeness
{
    /** Places along each side; one more is measured, to compare the last with. */
    private const SIDE = 8;
    /** Grey values, of 255, by which a place must be brighter than the one before: less is grain. */
    private const STEP = 2;
    /** Places, of 128, at which it must grow brighter or darker: an even or a black picture is like every other one. */
    private const FEWEST_STEPS = 12;
    /** Every so many rows are measured: as good as all of them, and quicker. */
    private const ROWS = 4;
    /** Of 128 bits, so many may differ between two pictures that look alike; see `LikenessTest` for what that finds. */
    private const MOST_APART = 20;

    /** @param string $hex 32 hexadecimal digits */
    private function __construct(public string $hex)
    {
    }

    public static function fromHex(string $hex): self
    {
        return 1 === preg_match('/^[0-9a-f]{32}$/', $hex)
            ? new self($hex)
            : throw new \ValueError('A likeness has 32 hexadecimal digits.');
    }

    /**
     * @param string       $grey  one byte a pixel, row by row, in whole rows
     * @param positive-int $width pixels of a row
     *
     * @return self|null null of a picture that has too few pixels, or nothing to see
     */
    public static function of(string $grey, int $width): ?self
    {
        $cells = self::SIDE + 1;
        $height = intdiv(\strlen($grey), $width);
        if ($width < $cells || $height < $cells * self::ROWS) {
            return null;
        }
        $means = [];
        for ($row = 0; $row < $cells; ++$row) {
            for ($column = 0; $column < $cells; ++$column) {
                $means[$row][$column] = self::mean(
                    $grey,
                    $width,
                    [intdiv($column * $width, $cells), intdiv(($column + 1) * $width, $cells)],
                    [intdiv($row * $height, $cells), intdiv(($row + 1) * $height, $cells)],
                );
            }
        }
        $bits = '';
        $steps = 0;
        for ($row = 0; $row < self::SIDE; ++$row) {
            for ($column = 0; $column < self::SIDE; ++$column) {
                foreach ([$means[$row][$column + 1], $means[$row + 1][$column]] as $next) {
                    $bits .= $next - $means[$row][$column] > self::STEP ? '1' : '0';
                    $steps += abs($next - $means[$row][$column]) > self::STEP ? 1 : 0;
                }
            }
        }
        if ($steps < self::FEWEST_STEPS) {
            return null;
        }

        return new self(implode('', array_map(
            static fn (string $four): string => dechex((int) bindec($four)),
            str_split($bits, 4),
        )));
    }

    /** Bits in which they differ, 0 to 128. */
    public function apart(self $other): int
    {
        $differ = (string) hex2bin($this->hex) ^ (string) hex2bin($other->hex);
        $bits = 0;
        foreach (str_split($differ) as $byte) {
            $bits += substr_count(decbin(\ord($byte)), '1');
        }

        return $bits;
    }

    public function isLike(self $other): bool
    {
        return $this->apart($other) <= self::MOST_APART;
    }

    /**
     * @param array{int, int} $columns from, and the first one behind
     * @param array{int, int} $rows    the same
     */
    private static function mean(string $grey, int $width, array $columns, array $rows): float
    {
        $sum = $lines = 0;
        $across = $columns[1] - $columns[0];
        for ($row = $rows[0]; $row < $rows[1]; $row += self::ROWS) {
            $pixels = unpack('C*', substr($grey, $row * $width + $columns[0], $across));
            $sum += false === $pixels ? 0 : array_sum($pixels);
            ++$lines;
        }

        return $sum / ($lines * $across);
    }
}
