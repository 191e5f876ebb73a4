<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** An entry with its folder and all its names settled. */
final readonly class PlannedEntry
{
    /**
     * @param string             $folder relative to the shelf
     * @param list<PlannedFrame> $frames
     */
    public function __construct(public EntryToFile $entry, public string $folder, public array $frames)
    {
    }

    /** The name of the first file that will be written; null when the entry copies nothing. */
    public function sample(): ?string
    {
        foreach ($this->frames as $frame) {
            if ([] !== $frame->to) {
                return basename($frame->to[0]);
            }
        }

        return null;
    }
}
