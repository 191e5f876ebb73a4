<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** A run of frames that belong together: a time-lapse, an exposure bracket, a burst. */
final readonly class Sequence
{
    /**
     * @param non-empty-list<int> $positions of its frames, in order
     * @param int                 $interval  milliseconds from frame to frame; 0 where it is no time-lapse
     * @param list<int>           $missed    positions behind which frames are missing, each as often as frames are
     *                                       missing
     * @param float               $step      stops from exposure to exposure; 0 where it is no bracket
     */
    public function __construct(
        public SequenceKind $kind,
        public array $positions,
        public int $interval = 0,
        public array $missed = [],
        public float $step = 0.0,
    ) {
    }
}
