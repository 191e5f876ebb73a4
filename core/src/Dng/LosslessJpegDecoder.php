<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/** Reads lossless JPEG (ITU-T T.81, process 14, Annex H): one scan, up to four components, all seven predictors. */
final class LosslessJpegDecoder
{
    /** Bits that are looked up at once; longer codes are rare. */
    private const LOOKED_UP = 14;
    private const MOST_SAMPLES = 1 << 26;

    /**
     * @return array{list<string>, int, int} rows of samples (16 bits, little-endian, components interleaved), components, precision
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
        /** @var list<int> $words */
        $words = array_values((array) unpack('N*', $data.str_repeat("\xFF", 12 - \strlen($data) % 4)));
        $same = 1 === \count(array_unique(\array_slice($chosen, 0, $components)));
        $lookups = [];
        foreach (array_unique($chosen) as $table) {
            $lookups[$table] = self::lookup($tables[$table] ?? throw DngRefused::structure('a tile names a Huffman table that it has not'));
        }

        return [$this->rows($words, \strlen($data) * 8, $lines, $width, $components, $precision, $predictor, $same ? [$lookups[$chosen[0]]] : array_map(static fn (int $table): array => $lookups[$table], \array_slice($chosen, 0, $components)), $tables, $chosen), $components, $precision];
    }

    /**
     * @param list<int>              $words   the data, 32 bits each
     * @param list<list<int>>        $lookups for each component, or one for all
     * @param array<int, HuffmanCode> $tables
     * @param list<int>              $chosen
     *
     * @return list<string>
     */
    private function rows(array $words, int $available, int $lines, int $width, int $components, int $precision, int $predictor, array $lookups, array $tables, array $chosen): array
    {
        $rows = [];
        $above = [];
        $held = 0;
        $count = 0;
        $next = 0;
        $n = $width * $components;
        $first = 1 << ($precision - 1);
        $lookup = $lookups[0];
        $several = \count($lookups) > 1;
        $shift = self::LOOKED_UP;
        $mask = (1 << $shift) - 1;
        for ($line = 0; $line < $lines; ++$line) {
            $row = [];
            $way = 0 === $line ? 1 : $predictor;
            for ($i = 0; $i < $n; ++$i) {
                if ($count < 32) {
                    $held = ($held << 32) | ($words[$next++] ?? throw DngRefused::structure('a tile ends too early'));
                    $count += 32;
                }
                if ($several) {
                    $lookup = $lookups[$i % $components];
                }
                $entry = $lookup[($held >> ($count - $shift)) & $mask];
                if (0 !== $entry) {
                    $count -= $entry & 31;
                    $difference = $entry >> 5;
                } else {
                    [$category, $length] = self::long($tables[$chosen[$several ? $i % $components : 0]], ($held >> ($count - 16)) & 0xFFFF);
                    $count -= $length;
                    if ($count < $category) {
                        $held = ($held << 32) | ($words[$next++] ?? throw DngRefused::structure('a tile ends too early'));
                        $count += 32;
                    }
                    $difference = 0x8000;
                    if ($category < 16) {
                        $count -= $category;
                        $difference = self::signed(($held >> $count) & ((1 << $category) - 1), $category);
                    }
                }
                if ($i < $components) {
                    $prediction = 0 === $line ? $first : $above[$i] ?? 0;
                } else {
                    $left = $row[$i - $components] ?? 0;
                    if (1 === $way) {
                        $prediction = $left;
                    } else {
                        $over = $above[$i] ?? 0;
                        $corner = $above[$i - $components] ?? 0;
                        $prediction = match ($way) {
                            7 => ($left + $over) >> 1,
                            6 => $over + (($left - $corner) >> 1),
                            5 => $left + (($over - $corner) >> 1),
                            4 => $left + $over - $corner,
                            3 => $corner,
                            default => $over,
                        };
                    }
                }
                $row[] = ($prediction + $difference) & 0xFFFF;
            }
            $rows[] = pack('v*', ...$row);
            $above = $row;
        }
        if ($next * 32 - $count > $available + 7) {
            throw DngRefused::structure('a tile ends too early');
        }

        return $rows;
    }

    /** @return array{int, list<int>, array<int, HuffmanCode>, int, list<int>} where the data begin, the frame, the tables, the predictor, the table of each component */
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
                $frame = [\ord($segment[0]), \ord($segment[1]) << 8 | \ord($segment[2]), \ord($segment[3]) << 8 | \ord($segment[4]), \ord($segment[5])];
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

    /** @return list<int> for the bits that come next, the difference modulo 2^16 and beneath it in five bits how many of them it is; 0 where they are not enough to tell */
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
                $difference = 16 === $category ? 0x8000 : self::signed($value, $category) & 0xFFFF;
                $from = ($bits << $extra | $value) << $free;
                for ($i = $from; $i < $from + (1 << $free); ++$i) {
                    $table[$i] = $difference << 5 | ($length + $extra);
                }
            }
        }

        return array_values($table);
    }

    /** The difference that extra bits stand for (T.81, F.2.2.1: EXTEND). */
    private static function signed(int $bits, int $category): int
    {
        return 0 === $category ? 0 : ($bits < 1 << ($category - 1) ? $bits + 1 - (1 << $category) : $bits);
    }

    /** @return array{int, int} category and length */
    private static function long(HuffmanCode $code, int $bits): array
    {
        foreach ($code->lengths as $category => $length) {
            if ($bits >> (16 - $length) === $code->codes[$category]) {
                return [$category, $length];
            }
        }
        throw DngRefused::structure('a code in a tile means nothing');
    }
}
