<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

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

    /** Whether it files nothing but what belongs to no frame, beside frames that are filed already. */
    public function copiesLooseFilesOnly(): bool
    {
        foreach ($this->frames as $frame) {
            if (!$frame->frame->isLoose() && FrameState::Filed !== $frame->frame->state) {
                return false;
            }
        }

        return [] !== $this->frames;
    }

    /** The name that the first file will have in the end; null when the entry copies nothing. */
    public function sample(): ?string
    {
        foreach ($this->frames as $frame) {
            if ([] !== $frame->filedAs) {
                return basename($frame->filedAs[0]);
            }
        }

        return null;
    }
}
