<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\Exposed;

/**
 * Finds runs in an entry's frames, for each camera on its own. The figures are our choice: a time-lapse has eight
 * frames or more at an interval of one second or more; a bracket three, five or seven different exposures in even steps
 * within moments; a burst three frames or more at two a second or faster.
 */
final class Sequences
{
    private const FEWEST_IN_RUN = 8;
    private const SHORTEST_INTERVAL = 1000;
    private const LONGEST_INTERVAL = 3_600_000;
    /** Cameras write whole seconds, as a rule: an interval may be off by one, or by a twentieth where that is more. */
    private const JITTER = 1000;
    private const JITTER_SHARE = 0.05;
    private const MOST_MISSED = 5;

    private const BRACKETS = [7, 5, 3];
    private const WITHIN_BRACKET = 3000;
    private const SMALLEST_STEP = 0.3;
    private const UNEVEN = 0.15;

    private const FEWEST_IN_BURST = 3;
    private const WITHIN_BURST = 500;

    /**
     * @param list<Exposed> $frames of an entry, in capture order
     *
     * @return list<Sequence> in the order of their first frames
     */
    public static function in(array $frames): array
    {
        $cameras = [];
        foreach ($frames as $position => $frame) {
            if (null !== $frame->ticks) {
                $cameras[$frame->camera][] = $position;
            }
        }
        $found = [];
        foreach ($cameras as $positions) {
            array_push($found, ...self::ofOneCamera($frames, $positions));
        }
        usort($found, static fn (Sequence $a, Sequence $b): int => $a->positions[0] <=> $b->positions[0]);

        return $found;
    }

    /**
     * The place of each frame in its run; frames that are in none are left out.
     *
     * @param list<Exposed> $frames
     *
     * @return array<int, InRun> by position
     */
    public static function places(array $frames): array
    {
        $places = $runs = [];
        foreach (self::in($frames) as $sequence) {
            $run = $runs[$sequence->kind->name] = ($runs[$sequence->kind->name] ?? 0) + 1;
            foreach ($sequence->positions as $n => $position) {
                $places[$position] = new InRun($sequence->kind, $run, $n + 1);
            }
        }

        return $places;
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     *
     * @return list<Sequence>
     */
    private static function ofOneCamera(array $frames, array $positions): array
    {
        $found = [];
        for ($at = 0; $at < \count($positions);) {
            $sequence = self::interval($frames, $positions, $at)
                ?? self::bracket($frames, $positions, $at)
                ?? self::burst($frames, $positions, $at);
            if (null !== $sequence) {
                $found[] = $sequence;
            }
            // the last frame of one run can be the first of the next: the interval changes at it
            $at += null === $sequence
                ? 1
                : (SequenceKind::Interval === $sequence->kind
                    ? max(1, \count($sequence->positions) - 1)
                    : \count($sequence->positions));
        }

        return self::withoutSharedFrames($found);
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     */
    private static function interval(array $frames, array $positions, int $at): ?Sequence
    {
        $gaps = [];
        for ($i = $at; $i + 1 < \count($positions) && \count($gaps) < self::FEWEST_IN_RUN - 1; ++$i) {
            $gaps[] = self::gap($frames, $positions, $i);
        }
        if (\count($gaps) < self::FEWEST_IN_RUN - 1) {
            return null;
        }
        sort($gaps);
        $median = $gaps[intdiv(\count($gaps), 2)];
        $usual = array_filter($gaps, static fn (int $gap): bool => abs($gap - $median) <= $median / 2);
        $interval = [] === $usual ? 0 : array_sum($usual) / \count($usual);
        if ($interval < self::SHORTEST_INTERVAL || $interval > self::LONGEST_INTERVAL) {
            return null;
        }
        $tolerance = min(max(self::JITTER, self::JITTER_SHARE * $interval), $interval * 0.4);
        $missed = [];
        $end = $at;
        for (; $end + 1 < \count($positions); ++$end) {
            $gap = self::gap($frames, $positions, $end);
            $steps = (int) round($gap / $interval);
            if ($steps < 1 || $steps > 1 + self::MOST_MISSED || abs($gap - $steps * $interval) > $tolerance) {
                break;
            }
            // a gap of two intervals that goes on so is another interval and no missed frame
            if (
                $steps > 1
                && $end + 2 < \count($positions)
                && abs(self::gap($frames, $positions, $end + 1) - $gap) <= $tolerance
            ) {
                break;
            }
            for ($n = 1; $n < $steps; ++$n) {
                $missed[] = $positions[$end];
            }
        }
        $run = \array_slice($positions, $at, $end - $at + 1);
        if (\count($run) < self::FEWEST_IN_RUN) {
            return null;
        }
        $taken = (int) ($frames[$run[\count($run) - 1]]->ticks ?? 0) - (int) ($frames[$run[0]]->ticks ?? 0);

        return new Sequence(
            SequenceKind::Interval,
            $run,
            (int) round($taken / (\count($run) - 1 + \count($missed))),
            $missed,
        );
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     */
    private static function bracket(array $frames, array $positions, int $at): ?Sequence
    {
        foreach (self::BRACKETS as $count) {
            $run = \array_slice($positions, $at, $count);
            if (\count($run) < $count) {
                continue;
            }
            for ($i = $at; $i + 1 < $at + $count; ++$i) {
                if (self::gap($frames, $positions, $i) > self::WITHIN_BRACKET) {
                    continue 2;
                }
            }
            $step = self::evenStep(array_map(static fn (int $position): ?float => $frames[$position]->bias, $run));
            // exposures wander in a burst, too: without a bias only a run that is no longer than the bracket counts
            if (null === $step && self::burstLength($frames, $positions, $at) <= $count) {
                $step = self::evenStep(array_map(static fn (int $position): ?float => $frames[$position]->value, $run));
            }
            if (null !== $step) {
                return new Sequence(SequenceKind::Bracket, $run, step: $step);
            }
        }

        return null;
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     */
    private static function burst(array $frames, array $positions, int $at): ?Sequence
    {
        $run = \array_slice($positions, $at, self::burstLength($frames, $positions, $at));

        return \count($run) < self::FEWEST_IN_BURST ? null : new Sequence(SequenceKind::Burst, $run);
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     */
    private static function burstLength(array $frames, array $positions, int $at): int
    {
        $end = $at;
        while ($end + 1 < \count($positions) && self::gap($frames, $positions, $end) <= self::WITHIN_BURST) {
            ++$end;
        }

        return $end - $at + 1;
    }

    /**
     * The step between values that are all different and, sorted, evenly spaced; null for others.
     *
     * @param list<float|null> $values
     */
    private static function evenStep(array $values): ?float
    {
        $known = array_values(array_filter($values, is_float(...)));
        if (\count($known) !== \count($values)) {
            return null;
        }
        sort($known);
        $step = ($known[\count($known) - 1] - $known[0]) / (\count($known) - 1);
        for ($i = 1; $i < \count($known); ++$i) {
            if (abs($known[$i] - $known[$i - 1] - $step) > self::UNEVEN) {
                return null;
            }
        }

        return $step >= self::SMALLEST_STEP ? $step : null;
    }

    /**
     * @param list<Exposed> $frames
     * @param list<int>     $positions
     */
    private static function gap(array $frames, array $positions, int $i): int
    {
        return ($frames[$positions[$i + 1]]->ticks ?? 0) - ($frames[$positions[$i]]->ticks ?? 0);
    }

    /**
     * A frame at which one run ends and the next begins belongs to the first.
     *
     * @param list<Sequence> $found
     *
     * @return list<Sequence>
     */
    private static function withoutSharedFrames(array $found): array
    {
        $last = -1;
        $clean = [];
        foreach ($found as $sequence) {
            $own = array_values(
                array_filter($sequence->positions, static fn (int $position): bool => $position > $last),
            );
            if (
                [] !== $own
                && (\count($own) === \count($sequence->positions) || SequenceKind::Interval === $sequence->kind)
            ) {
                $clean[] = new Sequence($sequence->kind, $own, $sequence->interval, $sequence->missed, $sequence->step);
                $last = $own[\count($own) - 1];
            }
        }

        return $clean;
    }
}
