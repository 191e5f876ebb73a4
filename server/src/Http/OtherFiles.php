<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Store\Intake;
use Velvet\Server\Store\LooseFiles;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Work\Sheets\Sheets;

/** What else is on the cards of a sheet, and what becomes of it. */
final readonly class OtherFiles
{
    public function __construct(private LooseFiles $files, private SheetFrames $frames, private Sheets $sheets)
    {
    }

    /**
     * @return list<array{card: string, path: string, kind: string, bytes: int, fate: string, to: string|null,
     *     rule: string|null}> `to` relative to the shelf; `rule` of housekeeping
     */
    public function of(Intake $intake): array
    {
        $rows = $this->files->of($intake->id());
        $planned = $intake->state->isPlanned() && [] !== $rows ? $this->planned($intake) : [];

        return array_map(static function (Row $row) use ($planned): array {
            $rule = $row->textOrNull('housekeeping');
            $filed = $row->textOrNull('filed');
            $to = $filed ?? $row->textOrNull('target')
                ?? $planned[$row->text('card').'/'.$row->text('path')] ?? null;

            return [
                'card' => $row->text('card'),
                'path' => $row->text('path'),
                'kind' => $row->text('kind'),
                'bytes' => $row->int('bytes'),
                'fate' => match (true) {
                    null !== $rule => 'housekeeping',
                    null !== $filed => 'filed',
                    null !== $to => 'copied',
                    default => 'left',
                },
                'to' => $to,
                'rule' => $rule,
            ];
        }, $rows);
    }

    /** @return array<string, string> paths on the shelf, by the card's label and the path on it */
    private function planned(Intake $intake): array
    {
        $planned = [];
        foreach ($this->sheets->plan($intake, $this->frames->ofIntake($intake->id()))->entries as $entry) {
            foreach ($entry->frames as $frame) {
                foreach ($frame->frame->isLoose() ? $frame->along : [] as $i => $file) {
                    $planned[$frame->frame->naming->cardLabel.'/'.$file->path] = $frame->to[$i] ?? $frame->equals[$i];
                }
            }
        }

        return $planned;
    }
}
