<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Frames that belong to one shoot-to-be, in capture order. */
final readonly class FrameGroup
{
    /**
     * @param Day|null                   $day    null for frames without any date
     * @param non-empty-list<TimedFrame> $frames
     */
    public function __construct(public ?Day $day, public array $frames)
    {
    }
}
