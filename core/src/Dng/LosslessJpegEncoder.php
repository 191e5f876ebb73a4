<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * Lossless JPEG: ITU-T T.81, process 14, one scan, sequential, Huffman coded (Annex H), with a table of its own for each image.
 * One encoder serves for many images: its tables are kept.
 */
final class LosslessJpegEncoder
{
    /** @var list<int> the category of each difference modulo 2^16 (T.81, H.1.2.2 and Table H.2) */
    private readonly array $categories;
    /** @var array<int, int> code and extra bits of each difference, and beneath them in six bits how many bits they are; those of the image at hand */
    private array $codes;

    public function __construct()
    {
        $this->categories = self::categories();
        $this->codes = array_fill(0, 65536, 0);
    }

    /**
     * @param non-empty-list<string> $rows       samples of 16 bits, little-endian, their components interleaved; all of one length
     * @param int                             $components 1 to 4
     * @param int                             $precision  bits of a sample, 2 to 16
     * @param int                             $predictor  1 to 7 (T.81, Table H.1)
     */
    public function encode(array $rows, int $components, int $precision, int $predictor): string
    {
        $differences = $this->differences($rows, $components, $precision, $predictor);
        $counts = array_count_values($differences);
        $frequencies = [];
        foreach ($counts as $difference => $count) {
            $category = $this->categories[$difference];
            $frequencies[$category] = ($frequencies[$category] ?? 0) + $count;
        }
        \assert([] !== $frequencies);
        $huffman = HuffmanCode::shortest($frequencies);
        foreach (array_keys($counts) as $difference) {
            $this->codes[$difference] = $this->code($difference, $huffman);
        }

        return self::head(\count($rows), intdiv(\strlen($rows[0]), 2 * $components), $components, $precision, $predictor, $huffman).$this->bits($differences)."\xFF\xD9";
    }

    /**
     * The bits that the differences would take, headers not counted: for choosing a predictor.
     *
     * @param non-empty-list<string> $rows
     */
    public function cost(array $rows, int $components, int $precision, int $predictor): int
    {
        $bits = 0;
        $frequencies = [];
        foreach (array_count_values($this->differences($rows, $components, $precision, $predictor)) as $difference => $count) {
            $category = $this->categories[$difference];
            $frequencies[$category] = ($frequencies[$category] ?? 0) + $count;
            $bits += $count * ($category < 16 ? $category : 0);
        }
        \assert([] !== $frequencies);
        $lengths = HuffmanCode::shortest($frequencies)->lengths;
        foreach ($frequencies as $category => $count) {
            $bits += $count * $lengths[$category];
        }

        return $bits;
    }

    /**
     * Samples less their predictions, modulo 2^16 (T.81, H.1.2.1): the first row from its left, the first of other rows from above.
     *
     * @param non-empty-list<string> $rows
     *
     * @return list<int>
     */
    private function differences(array $rows, int $components, int $precision, int $predictor): array
    {
        if (2 === $components && 0 === \strlen($rows[0]) % 8) {
            return self::differencesOfPairs($rows, $precision, $predictor);
        }
        $all = [];
        $n = intdiv(\strlen($rows[0]), 2);
        $above = null;
        foreach ($rows as $packed) {
            /** @var array<int, int> $row counted from 1 */
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
     * The same for two components, which is what a colour filter array is written as: four samples are taken at a time, since PHP
     * unpacks numbers of 64 bits as fast as those of 16.
     *
     * @param non-empty-list<string> $rows
     *
     * @return list<int>
     */
    private static function differencesOfPairs(array $rows, int $precision, int $predictor): array
    {
        $all = [];
        $above = null;
        foreach ($rows as $packed) {
            /** @var array<int, int> $row counted from 1 */
            $row = unpack('P*', $packed);
            $first = $row[1];
            $start = \count($all);
            $l = $m = 1 << ($precision - 1); // to the left of the pair
            $u = $v = 0; // above that
            if (null === $above || 1 === $predictor) {
                foreach ($row as $four) {
                    $a = $four & 0xFFFF;
                    $b = $four >> 16 & 0xFFFF;
                    $all[] = $a - $l & 0xFFFF;
                    $all[] = $b - $m & 0xFFFF;
                    $l = $four >> 32 & 0xFFFF;
                    $m = $four >> 48 & 0xFFFF;
                    $all[] = $l - $a & 0xFFFF;
                    $all[] = $m - $b & 0xFFFF;
                }
            } elseif (2 === $predictor) {
                foreach ($row as $i => $four) {
                    $over = $above[$i];
                    $all[] = ($four & 0xFFFF) - ($over & 0xFFFF) & 0xFFFF;
                    $all[] = ($four >> 16 & 0xFFFF) - ($over >> 16 & 0xFFFF) & 0xFFFF;
                    $all[] = ($four >> 32 & 0xFFFF) - ($over >> 32 & 0xFFFF) & 0xFFFF;
                    $all[] = ($four >> 48 & 0xFFFF) - ($over >> 48 & 0xFFFF) & 0xFFFF;
                }
            } else {
                foreach ($row as $i => $four) {
                    $over = $above[$i];
                    $a = $four & 0xFFFF;
                    $b = $four >> 16 & 0xFFFF;
                    $c = $four >> 32 & 0xFFFF;
                    $d = $four >> 48 & 0xFFFF;
                    $w = $over & 0xFFFF;
                    $x = $over >> 16 & 0xFFFF;
                    $y = $over >> 32 & 0xFFFF;
                    $z = $over >> 48 & 0xFFFF;
                    if (7 === $predictor) {
                        $all[] = $a - (($l + $w) >> 1) & 0xFFFF;
                        $all[] = $b - (($m + $x) >> 1) & 0xFFFF;
                        $all[] = $c - (($a + $y) >> 1) & 0xFFFF;
                        $all[] = $d - (($b + $z) >> 1) & 0xFFFF;
                    } elseif (6 === $predictor) {
                        $all[] = $a - $w - (($l - $u) >> 1) & 0xFFFF;
                        $all[] = $b - $x - (($m - $v) >> 1) & 0xFFFF;
                        $all[] = $c - $y - (($a - $w) >> 1) & 0xFFFF;
                        $all[] = $d - $z - (($b - $x) >> 1) & 0xFFFF;
                    } elseif (5 === $predictor) {
                        $all[] = $a - $l - (($w - $u) >> 1) & 0xFFFF;
                        $all[] = $b - $m - (($x - $v) >> 1) & 0xFFFF;
                        $all[] = $c - $a - (($y - $w) >> 1) & 0xFFFF;
                        $all[] = $d - $b - (($z - $x) >> 1) & 0xFFFF;
                    } elseif (4 === $predictor) {
                        $all[] = $a - $l - $w + $u & 0xFFFF;
                        $all[] = $b - $m - $x + $v & 0xFFFF;
                        $all[] = $c - $a - $y + $w & 0xFFFF;
                        $all[] = $d - $b - $z + $x & 0xFFFF;
                    } else {
                        $all[] = $a - $u & 0xFFFF;
                        $all[] = $b - $v & 0xFFFF;
                        $all[] = $c - $w & 0xFFFF;
                        $all[] = $d - $x & 0xFFFF;
                    }
                    $l = $c;
                    $m = $d;
                    $u = $y;
                    $v = $z;
                }
            }
            if (null !== $above) { // the first pair of other rows is predicted from above
                $all[$start] = ($first & 0xFFFF) - ($above[1] & 0xFFFF) & 0xFFFF;
                $all[$start + 1] = ($first >> 16 & 0xFFFF) - ($above[1] >> 16 & 0xFFFF) & 0xFFFF;
            }
            $above = $row;
        }

        return array_values($all);
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
        $bytes = pack('N*', ...$words);
        if ($count > 0) {
            $rest = (($held << (32 - $count)) | ((1 << (32 - $count)) - 1)) & 0xFFFFFFFF;
            $bytes .= substr(pack('N', $rest), 0, intdiv($count + 7, 8));
        }

        return str_replace("\xFF", "\xFF\0", $bytes);
    }

    private function code(int $difference, HuffmanCode $huffman): int
    {
        $category = $this->categories[$difference];
        $code = $huffman->codes[$category];
        $length = $huffman->lengths[$category];
        if ($category > 0 && $category < 16) {
            // a negative one is written as one less, its low bits (T.81, F.1.2.1.1); category 16 has no extra bits (Table H.2)
            $extra = ($difference >= 0x8000 ? $difference - 1 : $difference) & ((1 << $category) - 1);
            $code = $code << $category | $extra;
            $length += $category;
        }

        return $code << 6 | $length;
    }

    /** Markers up to the scan's data: SOI, SOF3, DHT, SOS (T.81, B.2). */
    private static function head(int $lines, int $width, int $components, int $precision, int $predictor, HuffmanCode $huffman): string
    {
        $frame = pack('CnnC', $precision, $lines, $width, $components);
        $scan = \chr($components);
        for ($component = 0; $component < $components; ++$component) {
            $frame .= \chr($component)."\x11\0";
            $scan .= \chr($component)."\0";
        }
        $table = "\0".pack('C*', ...$huffman->counts).pack('C*', ...$huffman->values);
        $scan .= \chr($predictor)."\0\0";

        return "\xFF\xD8\xFF\xC3".pack('n', \strlen($frame) + 2).$frame."\xFF\xC4".pack('n', \strlen($table) + 2).$table."\xFF\xDA".pack('n', \strlen($scan) + 2).$scan;
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
