<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/** Reads lossless JPEG (ITU-T T.81, process 14, Annex H): one scan, up to four components, all seven predictors. */
final class LosslessJpegDecoder
{
    /** Bits that are looked up at once; longer codes are rare. */
    private const LOOKED_UP = 14;
    private const MASK = (1 << self::LOOKED_UP) - 1;
    private const MOST_SAMPLES = 1 << 26;

    /**
     * @return array{list<string>, int, int} rows of samples (16 bits, little-endian, components interleaved),
     *     components, precision
     *
     * @throws DngRefused
     */
    public function decode(string $jpeg): array
    {
        [$at, $frame, $tables, $predictor, $chosen] = $this->head($jpeg);
        [$precision, $lines, $width, $components] = $frame;
        if ($lines * $width * $components > self::MOST_SAMPLES || 0 === $lines * $width) {
            throw DngRefused::structure('a tile has an absurd size');
        }
        $end = strpos($jpeg, "\xFF\xD9", $at);
        // FF in the data is followed by a stuffed zero, so the first marker ends it
        $data = str_replace("\xFF\0", "\xFF", substr($jpeg, $at, (false === $end ? \strlen($jpeg) : $end) - $at));
        /** @var list<int> $words of 64 bits */
        $words = array_values((array) unpack('J*', $data.str_repeat("\xFF", 24 - \strlen($data) % 8)));
        $codes = array_map(
            static fn (int $table): HuffmanCode => $tables[$table] ?? throw DngRefused::structure(
                'a tile names a Huffman table that it has not',
            ),
            \array_slice($chosen, 0, $components),
        );
        $lookups = [];
        foreach (array_unique($chosen) as $component => $table) {
            $lookups[$table] = self::lookup($codes[$component]);
        }
        $inPairs = 2 === $components && 1 === \count($lookups) && 0 === $width % 2;
        [$rows, $bits] = $inPairs
            ? self::pairs($words, $lines, $width, $precision, $predictor, $lookups[$chosen[0]], $codes[0])
            : self::rows(
                $words,
                $lines,
                $width,
                $components,
                $precision,
                $predictor,
                array_map(static fn (int $table): array => $lookups[$table], \array_slice($chosen, 0, $components)),
                $codes,
            );
        if ($bits > 8 * \strlen($data) + 7) {
            throw DngRefused::structure('a tile ends too early');
        }

        return [$rows, $components, $precision];
    }

    /**
     * @param list<int>         $words   the data, 64 bits each
     * @param list<list<int>>   $lookups for each component
     * @param list<HuffmanCode> $codes   for each component
     *
     * @return array{list<string>, int} the rows, and how many bits they took
     */
    private static function rows(
        array $words,
        int $lines,
        int $width,
        int $components,
        int $precision,
        int $predictor,
        array $lookups,
        array $codes,
    ): array {
        $rows = [];
        /** @var list<int> $above */
        $above = [];
        $word = $held = $count = $next = 0;
        $isSecond = false;
        $n = $width * $components;
        for ($line = 0; $line < $lines; ++$line) {
            /** @var list<int> $row */
            $row = [];
            $way = 0 === $line ? 1 : $predictor;
            for ($i = 0; $i < $n; ++$i) {
                if ($count < 32) {
                    $word = $isSecond ? $word : $words[$next++] ?? throw DngRefused::structure('a tile ends too early');
                    $held = $held << 32 | ($isSecond ? $word : $word >> 32) & 0xFFFFFFFF;
                    $isSecond = !$isSecond;
                    $count += 32;
                }
                $entry = $lookups[$i % $components][$held >> ($count - self::LOOKED_UP) & self::MASK];
                if (0 === $entry) {
                    $entry = self::long($codes[$i % $components], $held >> ($count - 32) & 0xFFFFFFFF);
                }
                $count -= $entry & 63;
                if ($i < $components) {
                    $prediction = 0 === $line ? 1 << ($precision - 1) : $above[$i] ?? 0;
                } else {
                    $left = $row[$i - $components] ?? 0;
                    $prediction = 1 === $way ? $left : match ($way) {
                        7 => ($left + ($above[$i] ?? 0)) >> 1,
                        6 => ($above[$i] ?? 0) + (($left - ($above[$i - $components] ?? 0)) >> 1),
                        5 => $left + ((($above[$i] ?? 0) - ($above[$i - $components] ?? 0)) >> 1),
                        4 => $left + ($above[$i] ?? 0) - ($above[$i - $components] ?? 0),
                        3 => ($above[$i - $components] ?? 0),
                        default => ($above[$i] ?? 0),
                    };
                }
                $row[] = ($prediction + ($entry >> 6)) & 0xFFFF;
            }
            $rows[] = pack('v*', ...$row);
            $above = $row;
        }

        return [$rows, 64 * $next - ($isSecond ? 32 : 0) - $count];
    }

    /**
     * The same for two components with one table between them, which is what a colour filter array is written as: four
     * samples at a time, since a word of 64 bits holds as many, and arrays of fewer elements are sooner filled.
     *
     * @param list<int> $words
     * @param int       $width  an even number
     * @param list<int> $lookup
     *
     * @return array{list<string>, int}
     */
    private static function pairs(
        array $words,
        int $lines,
        int $width,
        int $precision,
        int $predictor,
        array $lookup,
        HuffmanCode $code,
    ): array {
        $rows = [];
        /** @var non-empty-list<int>|null $above */
        $above = null;
        $word = $held = $count = $next = 0;
        $isSecond = false;
        $none = array_fill(0, intdiv($width, 2), 0);
        for ($line = 0; $line < $lines; ++$line) {
            $row = [];
            $way = null === $above ? 1 : $predictor;
            // l and m are to the left of the pair, u and v above them; for the first pair what makes every predictor
            // give what is above it
            [$l, $m] = null === $above
                ? [1 << ($precision - 1), 1 << ($precision - 1)]
                : [$above[0] & 0xFFFF, $above[0] >> 16 & 0xFFFF];
            [$u, $v] = [$l, $m];
            // the step stands there four times: a call would take longer than the step
            foreach ($above ?? $none as $over) {
                if ($count < 32) {
                    if ($isSecond) {
                        $held = $held << 32 | $word & 0xFFFFFFFF;
                        $isSecond = false;
                    } else {
                        $word = $words[$next++] ?? throw DngRefused::structure('a tile ends too early');
                        $held = $held << 32 | $word >> 32 & 0xFFFFFFFF;
                        $isSecond = true;
                    }
                    $count += 32;
                }
                $entry = $lookup[$held >> ($count - self::LOOKED_UP) & self::MASK];
                if (0 === $entry) {
                    $entry = self::long($code, $held >> ($count - 32) & 0xFFFFFFFF);
                }
                $count -= $entry & 63;
                $p = $entry >> 6;
                if ($count < 32) {
                    if ($isSecond) {
                        $held = $held << 32 | $word & 0xFFFFFFFF;
                        $isSecond = false;
                    } else {
                        $word = $words[$next++] ?? throw DngRefused::structure('a tile ends too early');
                        $held = $held << 32 | $word >> 32 & 0xFFFFFFFF;
                        $isSecond = true;
                    }
                    $count += 32;
                }
                $entry = $lookup[$held >> ($count - self::LOOKED_UP) & self::MASK];
                if (0 === $entry) {
                    $entry = self::long($code, $held >> ($count - 32) & 0xFFFFFFFF);
                }
                $count -= $entry & 63;
                $q = $entry >> 6;
                if ($count < 32) {
                    if ($isSecond) {
                        $held = $held << 32 | $word & 0xFFFFFFFF;
                        $isSecond = false;
                    } else {
                        $word = $words[$next++] ?? throw DngRefused::structure('a tile ends too early');
                        $held = $held << 32 | $word >> 32 & 0xFFFFFFFF;
                        $isSecond = true;
                    }
                    $count += 32;
                }
                $entry = $lookup[$held >> ($count - self::LOOKED_UP) & self::MASK];
                if (0 === $entry) {
                    $entry = self::long($code, $held >> ($count - 32) & 0xFFFFFFFF);
                }
                $count -= $entry & 63;
                $r = $entry >> 6;
                if ($count < 32) {
                    if ($isSecond) {
                        $held = $held << 32 | $word & 0xFFFFFFFF;
                        $isSecond = false;
                    } else {
                        $word = $words[$next++] ?? throw DngRefused::structure('a tile ends too early');
                        $held = $held << 32 | $word >> 32 & 0xFFFFFFFF;
                        $isSecond = true;
                    }
                    $count += 32;
                }
                $entry = $lookup[$held >> ($count - self::LOOKED_UP) & self::MASK];
                if (0 === $entry) {
                    $entry = self::long($code, $held >> ($count - 32) & 0xFFFFFFFF);
                }
                $count -= $entry & 63;
                $s = $entry >> 6;
                $w = $over & 0xFFFF;
                $x = $over >> 16 & 0xFFFF;
                $y = $over >> 32 & 0xFFFF;
                $z = $over >> 48 & 0xFFFF;
                if (2 === $way) {
                    $p = $w + $p & 0xFFFF;
                    $q = $x + $q & 0xFFFF;
                    $r = $y + $r & 0xFFFF;
                    $s = $z + $s & 0xFFFF;
                } elseif (1 === $way) {
                    $p = $l + $p & 0xFFFF;
                    $q = $m + $q & 0xFFFF;
                    $r = $p + $r & 0xFFFF;
                    $s = $q + $s & 0xFFFF;
                } elseif (7 === $way) {
                    $p = (($l + $w) >> 1) + $p & 0xFFFF;
                    $q = (($m + $x) >> 1) + $q & 0xFFFF;
                    $r = (($p + $y) >> 1) + $r & 0xFFFF;
                    $s = (($q + $z) >> 1) + $s & 0xFFFF;
                } elseif (6 === $way) {
                    $p = $w + (($l - $u) >> 1) + $p & 0xFFFF;
                    $q = $x + (($m - $v) >> 1) + $q & 0xFFFF;
                    $r = $y + (($p - $w) >> 1) + $r & 0xFFFF;
                    $s = $z + (($q - $x) >> 1) + $s & 0xFFFF;
                } elseif (5 === $way) {
                    $p = $l + (($w - $u) >> 1) + $p & 0xFFFF;
                    $q = $m + (($x - $v) >> 1) + $q & 0xFFFF;
                    $r = $p + (($y - $w) >> 1) + $r & 0xFFFF;
                    $s = $q + (($z - $x) >> 1) + $s & 0xFFFF;
                } elseif (4 === $way) {
                    $p = $l + $w - $u + $p & 0xFFFF;
                    $q = $m + $x - $v + $q & 0xFFFF;
                    $r = $p + $y - $w + $r & 0xFFFF;
                    $s = $q + $z - $x + $s & 0xFFFF;
                } else {
                    $p = $u + $p & 0xFFFF;
                    $q = $v + $q & 0xFFFF;
                    $r = $w + $r & 0xFFFF;
                    $s = $x + $s & 0xFFFF;
                }
                $row[] = $p | $q << 16 | $r << 32 | $s << 48;
                $l = $r;
                $m = $s;
                $u = $y;
                $v = $z;
            }
            $rows[] = pack('P*', ...$row);
            $above = [] === $row ? null : $row;
        }

        return [$rows, 64 * $next - ($isSecond ? 32 : 0) - $count];
    }

    /**
     * @return array{int, list<int>, array<int, HuffmanCode>, int, list<int>} where the data begin, the frame, the
     *     tables, the predictor, the table of each component
     */
    private function head(string $jpeg): array
    {
        if (!str_starts_with($jpeg, "\xFF\xD8")) {
            throw DngRefused::structure('a tile is no JPEG');
        }
        $at = 2;
        $frame = null;
        $tables = [];
        while (isset($jpeg[$at + 3])) {
            if ("\xFF" !== $jpeg[$at]) {
                throw DngRefused::structure('a marker is missing in a tile');
            }
            $marker = \ord($jpeg[$at + 1]);
            $length = \ord($jpeg[$at + 2]) << 8 | \ord($jpeg[$at + 3]);
            $segment = substr($jpeg, $at + 4, max(0, $length - 2));
            if (\strlen($segment) !== $length - 2) {
                break;
            }
            $at += 2 + $length;
            if (0xC3 === $marker && \strlen($segment) >= 6) {
                $frame = [
                    \ord($segment[0]),
                    \ord($segment[1]) << 8 | \ord($segment[2]),
                    \ord($segment[3]) << 8 | \ord($segment[4]),
                    \ord($segment[5]),
                ];
                if ($frame[0] < 2 || $frame[0] > 16 || $frame[3] < 1 || $frame[3] > 4) {
                    throw DngRefused::structure('a tile has a depth or components that are none');
                }
            } elseif (0xC4 === $marker) {
                $tables = self::tables($segment) + $tables;
            } elseif (0xDD === $marker && "\0\0" !== $segment) {
                throw DngRefused::structure('a tile has restart intervals, which are not read');
            } elseif (0xDA === $marker) {
                $components = \ord($segment[0] ?? "\0");
                if (null === $frame || $components !== $frame[3] || \strlen($segment) < 4 + 2 * $components) {
                    throw DngRefused::structure('a tile is not of one scan');
                }
                $chosen = [];
                for ($component = 0; $component < $components; ++$component) {
                    $chosen[] = \ord($segment[2 + 2 * $component]) >> 4;
                }
                $predictor = \ord($segment[1 + 2 * $components]);
                if ($predictor < 1 || $predictor > 7 || 0 !== (\ord($segment[3 + 2 * $components]) & 15)) {
                    throw DngRefused::structure('a tile has a predictor that is none');
                }

                return [$at, $frame, $tables, $predictor, $chosen];
            } elseif (0xC0 <= $marker && $marker <= 0xCF && 0xC8 !== $marker && 0xCC !== $marker) {
                throw DngRefused::structure('a tile is a JPEG that loses');
            }
        }
        throw DngRefused::structure('a tile ends within its head');
    }

    /** @return array<int, HuffmanCode> */
    private static function tables(string $segment): array
    {
        $tables = [];
        for ($at = 0; isset($segment[$at + 16]);) {
            $counts = array_map(ord(...), str_split(substr($segment, $at + 1, 16)));
            $sum = array_sum($counts);
            if ($sum < 1 || \strlen($segment) < $at + 17 + $sum) {
                throw DngRefused::structure('a Huffman table is shorter than it says');
            }
            $values = array_map(ord(...), str_split(substr($segment, $at + 17, $sum)));
            if ([] !== array_filter($values, static fn (int $value): bool => $value > 16)) {
                throw DngRefused::structure('a Huffman table has a category that is none');
            }
            $tables[\ord($segment[$at]) & 15] = HuffmanCode::of($counts, $values);
            $at += 17 + $sum;
        }

        return $tables;
    }

    /**
     * @return list<int> for the bits that come next, the difference modulo 2^16 and beneath it in six bits how many of
     *     them it is; 0 where they are not enough to tell
     */
    private static function lookup(HuffmanCode $code): array
    {
        $table = array_fill(0, 1 << self::LOOKED_UP, 0);
        foreach ($code->codes as $category => $bits) {
            $length = $code->lengths[$category];
            $extra = $category < 16 ? $category : 0;
            $free = self::LOOKED_UP - $length - $extra;
            if ($free < 0) {
                continue;
            }
            for ($value = 0; $value < 1 << $extra; ++$value) {
                $entry = self::difference($value, $category) << 6 | ($length + $extra);
                $from = ($bits << $extra | $value) << $free;
                for ($i = $from; $i < $from + (1 << $free); ++$i) {
                    $table[$i] = $entry;
                }
            }
        }

        return array_values($table);
    }

    /** The difference, modulo 2^16, that extra bits stand for (T.81, F.2.2.1: EXTEND; Table H.2 for category 16). */
    private static function difference(int $bits, int $category): int
    {
        return match (true) {
            0 === $category => 0,
            16 === $category => 0x8000,
            $bits < 1 << ($category - 1) => ($bits + 1 - (1 << $category)) & 0xFFFF,
            default => $bits,
        };
    }

    /** @param int $bits the next 32; a code and its extra bits are never more @return int as {@see lookup()} has it */
    private static function long(HuffmanCode $code, int $bits): int
    {
        foreach ($code->lengths as $category => $length) {
            if ($bits >> (32 - $length) === $code->codes[$category]) {
                $extra = $category < 16 ? $category : 0;

                return self::difference(
                    $bits >> (32 - $length - $extra) & ((1 << $extra) - 1),
                    $category,
                ) << 6 | ($length + $extra);
            }
        }
        throw DngRefused::structure('a code in a tile means nothing');
    }
}
