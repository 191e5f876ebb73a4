<?php

declare(strict_types=1);

namespace Velvet\Server\Style;

use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Transfer\EntryToFile;
use Velvet\Core\Transfer\FoldersOnDisk;
use Velvet\Core\Transfer\FrameToFile;
use Velvet\Core\Transfer\IntakePlan;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** The standard house style with samples computed from frames that are really there. */
final readonly class StyleView
{
    private const SAMPLE_NAME = 'Lantern Regatta';

    public function __construct(private Rows $rows, private HouseStyle $style)
    {
    }

    /** @return array<string, mixed> */
    public function standard(): array
    {
        $division = $this->style->division();

        return [
            'name' => HouseStyle::NAME,
            'day_starts' => $division->boundary->text(),
            'break_after' => $division->breakAfterMinutes,
            'samples' => array_values(array_filter(array_map($this->sample(...), $this->frames()), is_array(...))),
        ];
    }

    /** @return list<Row> a few frames of different cards and hours; the latest night frame among them, for the day boundary */
    private function frames(): array
    {
        return $this->rows->all(<<<'SQL'
            SELECT * FROM (
                (SELECT f.path, f.captured_at, f.picture, coalesce(e.name, '') AS name FROM card_frame f JOIN card k ON k.id = f.card_id AND k.present LEFT JOIN entry_frame ef ON ef.frame_id = f.id LEFT JOIN entry e ON e.id = ef.entry_id
                  WHERE f.captured_at::time < '04:00' AND f.picture IS NOT NULL ORDER BY f.captured_at DESC LIMIT 1)
                UNION (SELECT DISTINCT ON (f.card_id) f.path, f.captured_at, f.picture, coalesce(e.name, '') FROM card_frame f JOIN card k ON k.id = f.card_id AND k.present LEFT JOIN entry_frame ef ON ef.frame_id = f.id LEFT JOIN entry e ON e.id = ef.entry_id
                  WHERE f.captured_at IS NOT NULL AND f.picture IS NOT NULL ORDER BY f.card_id, f.captured_at)
            ) AS samples ORDER BY captured_at LIMIT 4
            SQL);
    }

    /** @return array<string, mixed>|null */
    private function sample(Row $row): ?array
    {
        $time = ShotTime::fromText($row->text('captured_at'));
        if (null === $time) {
            return null;
        }
        $day = $this->style->division()->boundary->dayOf($time);
        $named = '' !== trim($row->text('name'));
        $name = $named ? $row->text('name') : self::SAMPLE_NAME;
        $file = new CardFile($row->text('path'), FileKind::ofName($row->text('path')), 0, 0);
        $plan = IntakePlan::of([new EntryToFile(1, $day, $name, [new FrameToFile(0, [$file])])], new FoldersOnDisk([]))->entries[0];

        return [
            'original' => $file->name(),
            'captured_at' => $time->text(),
            'picture' => $row->textOrNull('picture'),
            'day' => $day,
            'name' => $name,
            'named' => $named,
            'folder' => $plan->folder,
            'file' => $plan->sample(),
        ];
    }
}
