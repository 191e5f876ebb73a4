<?php

declare(strict_types=1);

namespace Velvet\Server\Sheets;

use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Transfer\FrameState;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** Reads frames with their files from the database. */
final readonly class SheetFrames
{
    private const FILES = <<<'SQL'
        (SELECT jsonb_agg(jsonb_build_array(c.path, c.kind, c.bytes, c.modified_at, c.fingerprint, ff.path) ORDER BY c.position)
           FROM card_file c LEFT JOIN filed_file ff ON ff.id = c.filed_file_id WHERE c.frame_id = f.id) AS files
        SQL;

    public function __construct(private Rows $rows)
    {
    }

    /** @return list<SheetFrame> all frames of a card */
    public function ofCard(int $cardId): array
    {
        return array_map(self::frame(...), $this->rows->all('SELECT f.*, '.self::FILES.' FROM card_frame f WHERE f.card_id = :card ORDER BY f.id', ['card' => $cardId]));
    }

    /** @return array<int, list<SheetFrame>> by entry, in the order of the sheet */
    public function ofIntake(int $intakeId): array
    {
        $entries = [];
        foreach ($this->rows->all('SELECT ef.entry_id, f.*, '.self::FILES.' FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id JOIN card_frame f ON f.id = ef.frame_id WHERE e.intake_id = :intake ORDER BY e.number, ef.position', ['intake' => $intakeId]) as $row) {
            $entries[$row->int('entry_id')][] = self::frame($row);
        }

        return $entries;
    }

    private static function frame(Row $row): SheetFrame
    {
        $files = $fingerprints = $sameAs = [];
        foreach ($row->json('files') as $file) {
            \assert(\is_array($file) && \is_string($file[0]) && \is_string($file[1]) && \is_int($file[2]) && \is_int($file[3]));
            $files[] = new CardFile($file[0], FileKind::from($file[1]), $file[2], $file[3]);
            $fingerprints[] = \is_string($file[4]) ? $file[4] : null;
            if (\is_string($file[5])) {
                $sameAs[] = $file[5];
            }
        }
        \assert([] !== $files);
        $facts = $row->json('facts');
        $problems = [];
        foreach ($row->json('problems') as $problem) {
            \assert(\is_array($problem) && \is_string($problem['code']) && \is_string($problem['text']));
            $problems[] = ['code' => $problem['code'], 'text' => $problem['text']];
        }
        $captured = $row->textOrNull('captured_at');

        return new SheetFrame(
            $row->int('id'),
            $row->int('card_id'),
            $files,
            $fingerprints,
            null === $captured ? null : ShotTime::fromText($captured, \is_string($facts['offset'] ?? null) ? $facts['offset'] : null),
            $row->text('camera'),
            $facts,
            $problems,
            $row->textOrNull('picture'),
            FrameState::from($row->text('state')),
            $sameAs,
        );
    }
}
