<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

use Velvet\Core\Naming\DatedNames;
use Velvet\Core\Naming\FolderCounter;
use Velvet\Core\Naming\FrameFileNames;
use Velvet\Core\Naming\PortableName;

/**
 * What an intake will do, settled before a byte is copied. The sheet shows this plan, the headless `plan` prints it and
 * the copy carries it out: there is no other place that names a file.
 */
final readonly class IntakePlan
{
    /** @param list<PlannedEntry> $entries */
    private function __construct(public array $entries)
    {
    }

    /** @param list<EntryToFile> $entries */
    public static function of(array $entries, ShelfFolders $shelf): self
    {
        /** @var array<string, FolderCounter> $counters entries of one day and one name share a folder and its counter */
        $counters = [];
        $planned = [];
        foreach ($entries as $entry) {
            $names = new DatedNames($entry->day, $entry->name);
            $counter = $counters[PortableName::folded($names->folder)] ??= new FolderCounter($names, $shelf->namesIn($names->folder));
            $frames = [];
            foreach ($entry->frames as $frame) {
                $to = [];
                if (FrameState::New === $frame->state) {
                    foreach (FrameFileNames::of($counter->next(), $frame->files) as $name) {
                        $to[] = $names->folder.'/'.$name;
                    }
                }
                $frames[] = new PlannedFrame($frame, $to);
            }
            $planned[] = new PlannedEntry($entry, $names->folder, $frames);
        }

        return new self($planned);
    }

    /** Bytes that will be written to each destination. */
    public function bytes(): int
    {
        $bytes = 0;
        foreach ($this->entries as $entry) {
            foreach ($entry->frames as $frame) {
                foreach ([] === $frame->to ? [] : $frame->frame->files as $file) {
                    $bytes += $file->bytes;
                }
            }
        }

        return $bytes;
    }
}
