<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Shoot\BelievableTimes;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\MarginNote;
use Velvet\Core\Shoot\NaturalBreaks;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Shoot\Sequences;
use Velvet\Core\Shoot\Strays;

/** What stands in the margin beside an entry. */
final class EntryNotes
{
    /**
     * @param list<FrameLook> $looks      of its frames, in their order
     * @param DayBoundary     $boundary   by which the sheet was divided
     * @param BelievableTimes $times      what is not among them, a wrong clock said
     * @param Day|null        $lastIntake the latest day that was taken in from cards like these before
     *
     * @return list<MarginNote>
     */
    public static function of(
        PlannedEntry $planned,
        array $looks,
        DayBoundary $boundary,
        BelievableTimes $times,
        ?Day $lastIntake,
    ): array {
        $notes = [];
        $new = self::positions($planned, static fn (PlannedFrame $one): bool => FrameState::New === $one->state());
        if (null !== $lastIntake && true === $planned->entry->day?->isBefore($lastIntake) && [] !== $new) {
            $notes[] = MarginNote::leftover($new, $lastIntake);
        }
        array_push($notes, ...self::ofFrames($planned, $looks, $times));
        if (self::isPastMidnight($planned)) {
            $notes[] = MarginNote::pastMidnight($boundary);
        }
        $taken = self::positions($planned, static fn (PlannedFrame $one): bool => $one->collided);
        if ([] !== $taken) {
            $notes[] = MarginNote::nameTaken($taken, self::name($planned, $taken[0]));
        }

        $halves = self::positions($planned, static fn (PlannedFrame $one): bool => null !== $one->filedWith);
        if ([] !== $halves) {
            $notes[] = MarginNote::otherSlot($halves, self::name($planned, $halves[0]));
        }

        return [...$notes, ...self::ofRuns($planned)];
    }

    /**
     * @param list<FrameLook> $looks
     *
     * @return list<MarginNote>
     */
    private static function ofFrames(PlannedEntry $planned, array $looks, BelievableTimes $times): array
    {
        $found = [];
        foreach ($planned->frames as $position => $frame) {
            if ($frame->frame->isLoose()) {
                continue;
            }
            $concern = FrameConcern::of($frame, $looks[$position], $times);
            if (null !== $concern) {
                $found[$concern->name][] = $position;
            }
        }
        $notes = [];
        foreach (FrameConcern::cases() as $concern) {
            $positions = $found[$concern->name] ?? [];
            if ([] !== $positions) {
                $notes[] = $concern->note($positions, self::name($planned, $positions[0]));
            }
        }

        return $notes;
    }

    /** @return list<MarginNote> long pauses, time-lapses with their changes of interval, brackets, bursts */
    private static function ofRuns(PlannedEntry $planned): array
    {
        $exposed = $names = [];
        foreach ($planned->frames as $frame) {
            if ($frame->frame->isLoose()) {
                continue; // they come behind all frames
            }
            $exposed[] = $frame->frame->exposed ?? new Exposed(null, '', null, null);
            $names[] = $frame->frame->naming->originalName;
        }
        $notes = $brackets = $bursts = [];
        foreach (NaturalBreaks::in($exposed) as $position => $pause) {
            $notes[] = MarginNote::longPause($position, $names[$position], $pause);
        }
        $before = null;
        $runs = Sequences::in($exposed);
        foreach ($runs as $run) {
            switch ($run->kind) {
                case SequenceKind::Interval:
                    if (
                        null !== $before
                        && $exposed[$before->positions[0]]->camera === $exposed[$run->positions[0]]->camera
                    ) {
                        $change = MarginNote::intervalChange($before, $run, $names);
                        array_push($notes, ...(null === $change ? [] : [$change]));
                    }
                    $notes[] = MarginNote::timeLapse($run, $names);
                    $before = $run;
                    break;
                case SequenceKind::Bracket:
                    $brackets[] = $run;
                    break;
                case SequenceKind::Burst:
                    $bursts[] = $run;
                    break;
            }
        }
        $strays = Strays::around(\count($exposed), $runs);
        if ([] !== $strays) {
            $notes[] = MarginNote::strays($strays, $names[$strays[0]], $planned->entry->straysAside);
        }
        if ([] !== $brackets) {
            $notes[] = MarginNote::brackets($brackets, $names);
        }
        if ([] !== $bursts) {
            $notes[] = MarginNote::bursts($bursts, $names);
        }

        return $notes;
    }

    private static function isPastMidnight(PlannedEntry $planned): bool
    {
        $days = [];
        foreach ($planned->frames as $frame) {
            $time = $frame->frame->naming->shotAt;
            if (null !== $time) {
                $days[substr($time->clock, 0, 10)] = true;
            }
        }

        return \count($days) > 1;
    }

    /**
     * @param \Closure(PlannedFrame): bool $is
     *
     * @return list<int>
     */
    private static function positions(PlannedEntry $planned, \Closure $is): array
    {
        return array_keys(array_filter(
            $planned->frames,
            static fn (PlannedFrame $frame): bool => !$frame->frame->isLoose() && $is($frame),
        ));
    }

    private static function name(PlannedEntry $planned, int $position): string
    {
        return $planned->frames[$position]->frame->files[0]->stem();
    }
}
