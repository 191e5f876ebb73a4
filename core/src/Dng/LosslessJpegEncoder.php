<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * Lossless JPEG: ITU-T T.81, process 14, one scan, sequential, Huffman coded (Annex H), with a table of its own for
 * each image. One encoder serves for many images: its tables are kept.
 */
final class LosslessJpegEncoder
{
    /** Of images with more rows than these only some are looked at for the code, every so many. */
    private const LOOKED_AT_ALL = 64;
    private const LOOKED_AT_EVERY = 32;
    /** Of a word of four samples of 16 bits, the even ones, with room above each. */
    private const EVEN = 0x0000FFFF0000FFFF;
    /** Once 2^16 above each of them; twice; twice and a half. */
    private const GUARD = 0x0001000000010000;
    private const GUARDS = 0x0002000000020000;
    private const GUARDS_AND_HALF = 0x0002800000028000;

    /** @var list<int> the category of each difference modulo 2^16 (T.81, H.1.2.2 and Table H.2) */
    private readonly array $categories;
    /**
     * @var array<int, int> code and extra bits of each difference, and beneath them in six bits how many bits they
     *     are; those of the image at hand
     */
    private array $codes;

    public function __construct()
    {
        $this->categories = self::categories();
        $this->codes = array_fill(0, 65536, 0);
    }

    /**
     * @param non-empty-list<string> $rows       samples of 16 bits, little-endian, their components interleaved; all of
     *                                           one length
     * @param int                             $components 1 to 4
     * @param int                             $precision  bits of a sample, 2 to 16
     * @param int                             $predictor  1 to 7 (T.81, Table H.1)
     */
    public function encode(array $rows, int $components, int $precision, int $predictor): string
    {
        $inPairs = 2 === $components && 0 === \strlen($rows[0]) % 8 && \count($rows) > self::LOOKED_AT_ALL;
        $differences = $inPairs
            ? $this->someDifferences($rows, $precision, $predictor)
            : $this->differences($rows, $components, $precision, $predictor);
        $frequencies = $this->frequencies($differences);
        // of what was not looked at any difference may come; some predictions are up to twice as large as a sample
        $huffman = HuffmanCode::shortest(
            $inPairs ? $frequencies + array_fill(0, min(16, $precision + 1) + 1, 1) : $frequencies,
        );
        foreach (array_keys($huffman->codes) as $category) {
            $this->codesOf($category, $huffman->codes[$category], $huffman->lengths[$category]);
        }

        return self::head(
            \count($rows),
            intdiv(\strlen($rows[0]), 2 * $components),
            $components,
            $precision,
            $predictor,
            $huffman,
        ).($inPairs ? $this->bitsOfPairs($rows, $precision, $predictor) : $this->bits($differences))."\xFF\xD9";
    }

    /**
     * The bits that the differences would take, headers not counted: for choosing a predictor.
     *
     * @param non-empty-list<string> $rows
     */
    public function cost(array $rows, int $components, int $precision, int $predictor): int
    {
        $frequencies = $this->frequencies($this->differences($rows, $components, $precision, $predictor));
        $lengths = HuffmanCode::shortest($frequencies)->lengths;
        $bits = 0;
        foreach ($frequencies as $category => $count) {
            $bits += $count * ($lengths[$category] + ($category < 16 ? $category : 0));
        }

        return $bits;
    }

    /**
     * @param list<int> $differences
     *
     * @return non-empty-array<int, int> how often each category comes
     */
    private function frequencies(array $differences): array
    {
        $frequencies = [];
        foreach (array_count_values($differences) as $difference => $count) {
            $category = $this->categories[$difference];
            $frequencies[$category] = ($frequencies[$category] ?? 0) + $count;
        }

        return [] === $frequencies ? throw new \LogicException('An image without samples.') : $frequencies;
    }

    /**
     * Samples less their predictions, modulo 2^16 (T.81, H.1.2.1): the first row from its left, the first of other rows
     * from above.
     *
     * @param non-empty-list<string> $rows
     * @param string|null            $before the row above them, where they are not the first
     *
     * @return list<int>
     */
    private function differences(
        array $rows,
        int $components,
        int $precision,
        int $predictor,
        ?string $before = null,
    ): array {
        $all = [];
        $n = intdiv(\strlen($rows[0]), 2);
        /** @var array<int, int>|null $above counted from 1 */
        $above = null === $before ? null : unpack('v*', $before);
        foreach ($rows as $packed) {
            /** @var array<int, int> $row */
            $row = unpack('v*', $packed);
            for ($i = 1; $i <= $components; ++$i) {
                $all[] = ($row[$i] - (null === $above ? 1 << ($precision - 1) : $above[$i])) & 0xFFFF;
            }
            for ($i = $components + 1; $i <= $n; ++$i) {
                $left = $row[$i - $components];
                if (null === $above || 1 === $predictor) {
                    $all[] = ($row[$i] - $left) & 0xFFFF;
                    continue;
                }
                $over = $above[$i];
                $corner = $above[$i - $components];
                $all[] = ($row[$i] - match ($predictor) {
                    2 => $over,
                    3 => $corner,
                    4 => $left + $over - $corner,
                    5 => $left + (($over - $corner) >> 1),
                    6 => $over + (($left - $corner) >> 1),
                    default => ($left + $over) >> 1,
                }) & 0xFFFF;
            }
            $above = $row;
        }

        return $all;
    }

    /**
     * The differences of some rows, enough to find a code by.
     *
     * @param non-empty-list<string> $rows of two components
     *
     * @return list<int>
     */
    private function someDifferences(array $rows, int $precision, int $predictor): array
    {
        $some = [];
        for ($n = 0; $n < \count($rows); $n += self::LOOKED_AT_EVERY) {
            $some[] = $this->differences([$rows[$n]], 2, $precision, $predictor, $rows[$n - 1] ?? null);
        }

        return array_merge(...$some);
    }

    /**
     * Differences and their codes in one go, for two components, which is what a colour filter array is written as: a
     * word of 64 bits holds four samples. Its even and its odd ones, each with 16 bits to spare, are calculated with
     * together; a guard bit above a sample is there to be borrowed from.
     *
     * @param non-empty-list<string> $rows each of a multiple of four samples
     *
     * @return string as {@see bits()} gives it
     */
    private function bitsOfPairs(array $rows, int $precision, int $predictor): string
    {
        $codes = $this->codes;
        $words = [];
        $held = $count = 0;
        $above = null;
        foreach ($rows as $packed) {
            /** @var array<int, int> $row counted from 1 */
            $row = unpack('P*', $packed);
            $way = null === $above ? 1 : $predictor;
            // what is to the left of the first pair, and above that: in the first row half of all values, in the
            // others what is above the pair
            $left = null === $above ? (1 << ($precision - 1) | 1 << ($precision + 15)) << 32 : $above[1] << 32;
            $corner = $left;
            foreach ($row as $i => $four) {
                $even = $four & self::EVEN;
                $odd = $four >> 16 & self::EVEN;
                $l = $four << 32 | ($left >> 32 & 0xFFFFFFFF);
                $left = $four;
                if (1 === $way) {
                    $even = ($even | self::GUARD) - ($l & self::EVEN);
                    $odd = ($odd | self::GUARD) - ($l >> 16 & self::EVEN);
                } else {
                    $a = $above[$i] ?? 0;
                    $c = $a << 32 | ($corner >> 32 & 0xFFFFFFFF);
                    $corner = $a;
                    if (2 === $way) {
                        $even = ($even | self::GUARD) - ($a & self::EVEN);
                        $odd = ($odd | self::GUARD) - ($a >> 16 & self::EVEN);
                    } elseif (7 === $way) {
                        $even = ($even | self::GUARD) - ((($l & self::EVEN) + ($a & self::EVEN)) >> 1 & self::EVEN);
                        $odd = ($odd | self::GUARD)
                            - ((($l >> 16 & self::EVEN) + ($a >> 16 & self::EVEN)) >> 1 & self::EVEN);
                    } elseif (6 === $way) { // half a difference, with half of the guard still in it
                        $even = ($even + self::GUARDS_AND_HALF) - ($a & self::EVEN)
                            - ((($l & self::EVEN | self::GUARD) - ($c & self::EVEN)) >> 1 & self::EVEN);
                        $odd = ($odd + self::GUARDS_AND_HALF) - ($a >> 16 & self::EVEN)
                            - ((($l >> 16 & self::EVEN | self::GUARD) - ($c >> 16 & self::EVEN)) >> 1 & self::EVEN);
                    } elseif (5 === $way) {
                        $even = ($even + self::GUARDS_AND_HALF) - ($l & self::EVEN)
                            - ((($a & self::EVEN | self::GUARD) - ($c & self::EVEN)) >> 1 & self::EVEN);
                        $odd = ($odd + self::GUARDS_AND_HALF) - ($l >> 16 & self::EVEN)
                            - ((($a >> 16 & self::EVEN | self::GUARD) - ($c >> 16 & self::EVEN)) >> 1 & self::EVEN);
                    } elseif (4 === $way) {
                        $even = ($even | self::GUARDS) - ($l & self::EVEN) - ($a & self::EVEN) + ($c & self::EVEN);
                        $odd = ($odd | self::GUARDS)
                            - ($l >> 16 & self::EVEN) - ($a >> 16 & self::EVEN) + ($c >> 16 & self::EVEN);
                    } else {
                        $even = ($even | self::GUARD) - ($c & self::EVEN);
                        $odd = ($odd | self::GUARD) - ($c >> 16 & self::EVEN);
                    }
                }
                // the step stands there four times: a call would take longer than the step
                $code = $codes[$even & 0xFFFF];
                $length = $code & 63;
                $held = ($held << $length) | ($code >> 6);
                $count += $length;
                if ($count >= 32) {
                    $count -= 32;
                    $words[] = ($held >> $count) & 0xFFFFFFFF;
                }
                $code = $codes[$odd & 0xFFFF];
                $length = $code & 63;
                $held = ($held << $length) | ($code >> 6);
                $count += $length;
                if ($count >= 32) {
                    $count -= 32;
                    $words[] = ($held >> $count) & 0xFFFFFFFF;
                }
                $code = $codes[$even >> 32 & 0xFFFF];
                $length = $code & 63;
                $held = ($held << $length) | ($code >> 6);
                $count += $length;
                if ($count >= 32) {
                    $count -= 32;
                    $words[] = ($held >> $count) & 0xFFFFFFFF;
                }
                $code = $codes[$odd >> 32 & 0xFFFF];
                $length = $code & 63;
                $held = ($held << $length) | ($code >> 6);
                $count += $length;
                if ($count >= 32) {
                    $count -= 32;
                    $words[] = ($held >> $count) & 0xFFFFFFFF;
                }
            }
            $above = $row;
        }

        return self::stuffed($words, $held, $count);
    }

    /**
     * @param list<int> $differences
     *
     * @return string the entropy-coded segment: filled up with ones, a zero byte stuffed behind each FF (T.81, F.1.2.3)
     */
    private function bits(array $differences): string
    {
        $codes = $this->codes;
        $words = [];
        $held = 0;
        $count = 0;
        foreach ($differences as $difference) {
            $code = $codes[$difference];
            $length = $code & 63;
            $held = ($held << $length) | ($code >> 6);
            $count += $length;
            if ($count >= 32) {
                $count -= 32;
                $words[] = ($held >> $count) & 0xFFFFFFFF;
            }
        }

        return self::stuffed($words, $held, $count);
    }

    /**
     * @param list<int> $words 32 bits each
     * @param int       $held  what is left, in its lowest bits
     * @param int       $count how many of them, fewer than 32
     */
    private static function stuffed(array $words, int $held, int $count): string
    {
        $bytes = pack('N*', ...$words);
        if ($count > 0) {
            $rest = (($held << (32 - $count)) | ((1 << (32 - $count)) - 1)) & 0xFFFFFFFF;
            $bytes .= substr(pack('N', $rest), 0, intdiv($count + 7, 8));
        }

        return str_replace("\xFF", "\xFF\0", $bytes);
    }

    /**
     * Sets down what is written for each difference of a category: its code and behind it as many bits more (T.81,
     * H.1.2.2).
     */
    private function codesOf(int $category, int $code, int $length): void
    {
        if (0 === $category || 16 === $category) {
            $this->codes[0 === $category ? 0 : 0x8000] = $code << 6 | $length; // no more bits (Table H.2)

            return;
        }
        $least = 1 << ($category - 1);
        $length += $category;
        // negative ones are written as one less, their low bits (T.81, F.1.2.1.1)
        for ($bits = 0; $bits < $least; ++$bits) {
            $this->codes[0x10001 - 2 * $least + $bits] = ($code << $category | $bits) << 6 | $length;
            $this->codes[$least + $bits] = ($code << $category | $least | $bits) << 6 | $length;
        }
    }

    /** Markers up to the scan's data: SOI, SOF3, DHT, SOS (T.81, B.2). */
    private static function head(
        int $lines,
        int $width,
        int $components,
        int $precision,
        int $predictor,
        HuffmanCode $huffman,
    ): string {
        $frame = pack('CnnC', $precision, $lines, $width, $components);
        $scan = \chr($components);
        for ($component = 0; $component < $components; ++$component) {
            $frame .= \chr($component)."\x11\0";
            $scan .= \chr($component)."\0";
        }
        $table = "\0".pack('C*', ...$huffman->counts).pack('C*', ...$huffman->values);
        $scan .= \chr($predictor)."\0\0";

        return "\xFF\xD8\xFF\xC3".pack('n', \strlen($frame) + 2).$frame
            ."\xFF\xC4".pack('n', \strlen($table) + 2).$table
            ."\xFF\xDA".pack('n', \strlen($scan) + 2).$scan;
    }

    /** @return list<int> */
    private static function categories(): array
    {
        $categories = array_fill(0, 65536, 0);
        for ($category = 1; $category <= 15; ++$category) {
            for ($size = 1 << ($category - 1); $size < 1 << $category; ++$size) {
                $categories[$size] = $categories[0x10000 - $size] = $category;
            }
        }
        $categories[0x8000] = 16;

        return array_values($categories);
    }
}
