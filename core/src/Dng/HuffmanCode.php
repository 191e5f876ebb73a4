<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * A Huffman code for the categories of differences, as ITU-T T.81 has it: lengths of at most 16 bits, no code of ones
 * only.
 */
final readonly class HuffmanCode
{
    private const LONGEST = 16;

    /**
     * @param list<int>       $counts  BITS: how many codes there are of 1 to 16 bits
     * @param list<int>       $values  HUFFVAL: the categories, the shortest code first
     * @param array<int, int> $codes   by category (Annex C)
     * @param array<int, int> $lengths in bits, by category
     */
    private function __construct(public array $counts, public array $values, public array $codes, public array $lengths)
    {
    }

    /**
     * The shortest for these frequencies (T.81, K.2: procedures Code_size, Count_BITS, Adjust_BITS and Sort_input).
     *
     * @param non-empty-array<int, int> $frequencies how often each category comes, at least once each
     */
    public static function shortest(array $frequencies): self
    {
        $reserved = 256; // takes the code of ones only, and is then dropped
        $frequencies[$reserved] = 1;
        $sizes = array_fill_keys(array_keys($frequencies), 0);
        /** @var array<int, list<int>> $groups symbols that share a branch, by one of them */
        $groups = [];
        foreach (array_keys($frequencies) as $symbol) {
            $groups[$symbol] = [$symbol];
        }
        while (\count($frequencies) > 1) {
            // the two least frequent; of equals the larger symbol, as K.2 asks
            uksort(
                $frequencies,
                static fn (int $a, int $b): int => [$frequencies[$a], -$a] <=> [$frequencies[$b], -$b],
            );
            [$first, $second] = \array_slice(array_keys($frequencies), 0, 2);
            foreach ([...$groups[$first], ...$groups[$second]] as $symbol) {
                ++$sizes[$symbol];
            }
            $groups[$second] = [...$groups[$second], ...$groups[$first]];
            $frequencies[$second] += $frequencies[$first];
            unset($frequencies[$first], $groups[$first]);
        }
        $bits = array_fill(1, 32, 0);
        foreach ($sizes as $size) {
            ++$bits[$size];
        }
        $i = 32;
        while ($i > self::LONGEST) {
            if (0 === $bits[$i]) {
                --$i;
                continue;
            }
            $j = $i - 2;
            while (0 === $bits[$j]) {
                --$j;
            }
            $bits[$i] -= 2;
            ++$bits[$i - 1];
            $bits[$j + 1] += 2;
            --$bits[$j];
        }
        while (0 === $bits[$i]) {
            --$i;
        }
        --$bits[$i];
        unset($sizes[$reserved]);
        uksort($sizes, static fn (int $a, int $b): int => [$sizes[$a], $a] <=> [$sizes[$b], $b]);

        return self::of(array_values(\array_slice($bits, 0, self::LONGEST)), array_keys($sizes));
    }

    /**
     * The code that a table stands for (T.81, C.2: Generate_size_table and Generate_code_table).
     *
     * @param list<int> $counts of codes of 1 to 16 bits
     * @param list<int> $values
     *
     * @throws DngRefused where there are more codes than bits allow
     */
    public static function of(array $counts, array $values): self
    {
        $codes = $lengths = [];
        $code = 0;
        $n = 0;
        foreach ($counts as $i => $count) {
            for ($k = 0; $k < $count; ++$k) {
                $value = $values[$n++] ?? throw DngRefused::structure('a Huffman table is shorter than it says');
                if ($code >= 1 << ($i + 1)) {
                    throw DngRefused::structure('a Huffman table has more codes than its bits allow');
                }
                $codes[$value] = $code++;
                $lengths[$value] = $i + 1;
            }
            $code <<= 1;
        }

        return new self($counts, $values, $codes, $lengths);
    }
}
