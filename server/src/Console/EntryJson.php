<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Plan\PlannedEntry;

/** An entry as the headless contract spells it. */
final class EntryJson
{
    /**
     * @param list<string|null> $times capture times, one for each frame
     *
     * @return array<string, mixed>
     */
    public static function planned(PlannedEntry $planned, array $times): array
    {
        $frames = [];
        foreach ($planned->frames as $frame) {
            $frames[] = [
                'from' => array_map(
                    static fn (CardFile $file): string => $file->path,
                    [] === $frame->along ? $frame->frame->files : $frame->along,
                ),
                'to' => $frame->filedAs,
                'state' => $frame->state()->value,
                'same_as' => $frame->sameAs()[0] ?? null,
            ];
        }
        $known = array_values(array_filter($times, is_string(...)));

        return [
            'number' => $planned->entry->number,
            'name' => $planned->entry->name,
            'folder' => $planned->folder,
            'first' => $known[0] ?? null,
            'last' => [] === $known ? null : $known[\count($known) - 1],
            'frames' => $frames,
        ];
    }
}
