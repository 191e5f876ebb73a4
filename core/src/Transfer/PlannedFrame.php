<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** A frame with the names its files will have. */
final readonly class PlannedFrame
{
    /** @param list<string> $to relative to the shelf, one for each file of the frame; empty unless the frame is copied */
    public function __construct(public FrameToFile $frame, public array $to)
    {
    }
}
