<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Divides frames into shoots: by the photographer's day, and within a day wherever nothing was shot for long enough. */
final readonly class Division
{
    /** @param int<1, max>|null $breakAfterMinutes null: a pause never divides */
    public function __construct(public DayBoundary $boundary, public ?int $breakAfterMinutes = null)
    {
    }

    /**
     * A partition of the frames, in capture order; undated frames make the last group.
     *
     * @param list<TimedFrame> $frames
     *
     * @return list<FrameGroup>
     */
    public function divide(array $frames): array
    {
        $groups = [];
        $current = [];
        $day = null;
        $lastTick = null;
        foreach (CaptureOrder::of($frames) as $frame) {
            $frameDay = null === $frame->capturedAt ? null : $this->boundary->dayOf($frame->capturedAt);
            $tick = $frame->capturedAt?->ticks();
            if ([] !== $current && ($frameDay !== $day || $this->isBreak($lastTick, $tick))) {
                $groups[] = new FrameGroup($day, $current);
                $current = [];
            }
            $current[] = $frame;
            $day = $frameDay;
            $lastTick = $tick;
        }
        if ([] !== $current) {
            $groups[] = new FrameGroup($day, $current);
        }

        return $groups;
    }

    private function isBreak(?int $before, ?int $after): bool
    {
        return null !== $this->breakAfterMinutes && null !== $before && null !== $after
            && $after - $before >= $this->breakAfterMinutes * 60_000;
    }
}
