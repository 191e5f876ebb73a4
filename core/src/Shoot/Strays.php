<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Frames that are no part of the time-lapse they lie around: tries before it begins, and what was taken at its end. */
final class Strays
{
    /** So large a share of the frames must be of the time-lapse: among many others it is a run like any. */
    private const SHARE = 0.75;

    /**
     * @param int            $frames how many there are
     * @param list<Sequence> $runs   among them
     *
     * @return list<int> positions before the first frame of a time-lapse and behind the last one
     */
    public static function around(int $frames, array $runs): array
    {
        $ofLapses = [];
        foreach ($runs as $run) {
            if (SequenceKind::Interval === $run->kind) {
                array_push($ofLapses, ...$run->positions);
            }
        }
        if ([] === $ofLapses || \count(array_unique($ofLapses)) < self::SHARE * $frames) {
            return [];
        }

        [$first, $last] = [min($ofLapses), max($ofLapses)];

        return array_values(array_filter(
            range(0, $frames - 1),
            static fn (int $position): bool => $position < $first || $position > $last,
        ));
    }
}
