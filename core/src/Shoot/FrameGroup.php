<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Frames that belong to one shoot-to-be, in capture order. */
final readonly class FrameGroup
{
    /**
     * @param string|null                $day    `YYYY-MM-DD`; null for frames without any date
     * @param non-empty-list<TimedFrame> $frames
     */
    public function __construct(public ?string $day, public array $frames)
    {
    }
}
