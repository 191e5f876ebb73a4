<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\Exposed;

/**
 * The pauses that stand out from a card's own rhythm: an hour or longer, and far longer than nearly all others. Our
 * choice of figures; suggestions only.
 */
final class NaturalBreaks
{
    private const SHORTEST = 3_600_000;
    private const TIMES_AS_LONG = 4;
    private const NEARLY_ALL = 0.9;
    private const FEWEST_FRAMES = 6;
    private const MOST = 3;

    /**
     * @param list<Exposed> $frames of an entry, in capture order
     *
     * @return array<int, int> length of the pause in milliseconds, by the position of the frame behind it; in order
     */
    public static function in(array $frames): array
    {
        $gaps = [];
        $before = null;
        foreach ($frames as $position => $frame) {
            if (null === $frame->ticks) {
                continue;
            }
            if (null !== $before) {
                $gaps[$position] = $frame->ticks - $before;
            }
            $before = $frame->ticks;
        }
        if (\count($gaps) + 1 < self::FEWEST_FRAMES) {
            return [];
        }
        $sorted = array_values($gaps);
        sort($sorted);
        $usual = $sorted[(int) floor(self::NEARLY_ALL * (\count($sorted) - 1))];
        $long = array_filter(
            $gaps,
            static fn (int $gap): bool => $gap >= self::SHORTEST && $gap >= self::TIMES_AS_LONG * $usual,
        );
        arsort($long);
        $long = \array_slice($long, 0, self::MOST, true);
        ksort($long);

        return $long;
    }
}
