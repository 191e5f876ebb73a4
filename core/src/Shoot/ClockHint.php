<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/**
 * Whether two cameras of one event run apart by a steady amount. People shoot when something happens: if one camera's
 * frames, all shifted by the same amount, fall where the other's lie, and hardly do so unshifted, its clock is off by
 * that amount. The figures are our choice; it is a hint, and nothing is corrected because of it.
 */
final class ClockHint
{
    private const FEWEST_FRAMES = 12;
    private const MOST_FRAMES = 300; // of each camera, evenly spread
    private const FARTHEST = 12 * 3600; // seconds
    private const STEP = 30;            // seconds from one tried shift to the next
    /** A shift of less is how people shoot, not how clocks run. */
    private const SMALLEST = 120;
    /**
     * So large a share of the frames must fall near others, and so many times as large as unshifted and as by chance.
     */
    private const SHARE = 0.6;
    private const CLEARLY = 2.0;

    /**
     * @param list<int> $a milliseconds on the wall clock
     * @param list<int> $b
     *
     * @return int|null seconds that should be added to b's clock
     */
    public static function between(array $a, array $b): ?int
    {
        if (min(\count($a), \count($b)) < self::FEWEST_FRAMES) {
            return null;
        }
        $near = [];
        foreach ($a as $tick) {
            $bin = intdiv($tick, self::STEP * 1000);
            $near[$bin - 1] = $near[$bin] = $near[$bin + 1] = true;
        }
        $bins = array_map(static fn (int $tick): int => intdiv($tick, self::STEP * 1000), self::spread($b));
        $most = intdiv(self::FARTHEST, self::STEP);
        $shares = [0 => 0.0];
        for ($shift = -$most; $shift <= $most; ++$shift) {
            $hits = 0;
            foreach ($bins as $bin) {
                $hits += isset($near[$bin + $shift]) ? 1 : 0;
            }
            $shares[$shift] = $hits / \count($bins);
        }
        $best = max($shares);
        $met = array_filter($shares, static fn (float $share): bool => $share > 0);
        $chance = [] === $met ? 0.0 : array_sum($met) / \count($met);
        if ($best < self::SHARE || $best < self::CLEARLY * max($shares[0], $chance)) {
            return null;
        }
        // several neighbouring shifts do equally well: the middle of those nearest to none
        $equal = array_keys(array_filter($shares, static fn (float $share): bool => $share >= $best - 1e-9));
        usort($equal, static fn (int $x, int $y): int => abs($x) <=> abs($y));
        $together = array_values(array_filter($equal, static fn (int $shift): bool => abs($shift - $equal[0]) <= 4));
        $seconds = (int) round(array_sum($together) / \count($together) * self::STEP);

        return abs($seconds) < self::SMALLEST ? null : $seconds;
    }

    /**
     * @param list<int> $ticks
     *
     * @return list<int>
     */
    private static function spread(array $ticks): array
    {
        $every = max(1, intdiv(\count($ticks), self::MOST_FRAMES));
        $kept = [];
        for ($i = 0; $i < \count($ticks); $i += $every) {
            $kept[] = $ticks[$i];
        }

        return $kept;
    }
}
