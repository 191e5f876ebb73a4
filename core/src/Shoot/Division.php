<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/**
 * Divides frames into shoots: by the photographer's day and, if a pause is given, wherever nothing was shot for so
 * long; by pauses alone; by camera; or not at all.
 */
final readonly class Division
{
    /** A pause that divides where none is given: four hours. */
    public const USUAL_PAUSE = 240;

    /** @param int<1, max>|null $breakAfterMinutes null: a pause never divides a day */
    public function __construct(
        public DayBoundary $boundary,
        public ?int $breakAfterMinutes = null,
        public DivideBy $by = DivideBy::Day,
    ) {
    }

    /**
     * A partition of the frames, in capture order; undated frames make the last group. A group's day is that of its
     * first frame.
     *
     * @param list<TimedFrame> $frames
     *
     * @return list<FrameGroup>
     */
    public function divide(array $frames): array
    {
        $ordered = CaptureOrder::of($frames);
        if (DivideBy::Camera === $this->by) {
            return $this->byCamera($ordered);
        }
        $groups = [];
        $current = [];
        $day = null;
        $last = null;
        foreach ($ordered as $frame) {
            $frameDay = $this->dayOf($frame);
            if ([] !== $current && $this->isBreak($last, $frame, $day, $frameDay)) {
                $groups[] = new FrameGroup($day, $current);
                $current = [];
            }
            $day = [] === $current ? $frameDay : $day;
            $current[] = $last = $frame;
        }
        if ([] !== $current) {
            $groups[] = new FrameGroup($day, $current);
        }

        return $groups;
    }

    public function dayOf(TimedFrame $frame): ?Day
    {
        return null === $frame->capturedAt ? null : $this->boundary->dayOf($frame->capturedAt);
    }

    private function isBreak(?TimedFrame $before, TimedFrame $after, ?Day $day, ?Day $nextDay): bool
    {
        if (null === $day || null === $nextDay || null === $before?->capturedAt || null === $after->capturedAt) {
            return !Day::areSame($day, $nextDay); // what has no date lies with nothing that has one
        }
        $pause = $this->breakAfterMinutes ?? (DivideBy::Pause === $this->by ? self::USUAL_PAUSE : null);
        $isPause = null !== $pause && $after->capturedAt->ticks() - $before->capturedAt->ticks() >= $pause * 60_000;

        return match ($this->by) {
            DivideBy::Day => !Day::areSame($day, $nextDay) || $isPause,
            DivideBy::Pause => $isPause,
            DivideBy::Camera, DivideBy::Nothing => false,
        };
    }

    /**
     * @param list<TimedFrame> $ordered
     *
     * @return list<FrameGroup> in the order of their first frames
     */
    private function byCamera(array $ordered): array
    {
        $byCamera = [];
        foreach ($ordered as $frame) {
            $byCamera[null === $frame->capturedAt ? "\0" : $frame->camera][] = $frame;
        }

        return array_values(
            array_map(fn (array $frames): FrameGroup => new FrameGroup($this->dayOf($frames[0]), $frames), $byCamera),
        );
    }
}
