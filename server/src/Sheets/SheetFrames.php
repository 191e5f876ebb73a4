<?php

declare(strict_types=1);

namespace Velvet\Server\Sheets;

use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Shoot\TimedFrame;
use Velvet\Core\Transfer\FrameState;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** Reads frames with their files from the database. */
final readonly class SheetFrames
{
    private const COLUMNS = 'f.id, f.card_id, f.captured_at, f.camera, f.facts, f.problems, f.picture, f.state, f.brightness, f.black, f.clipped, f.sharpness';

    public function __construct(private Rows $rows)
    {
    }

    /** @return list<TimedFrame> all frames of a card, with what division and order need and no more */
    public function timed(int $cardId): array
    {
        return array_map(
            static fn (Row $row): TimedFrame => new TimedFrame($row->int('id'), self::time($row), $row->text('camera'), $row->text('path')),
            $this->rows->all('SELECT id, captured_at, camera, path FROM card_frame WHERE card_id = :card ORDER BY id', ['card' => $cardId]),
        );
    }

    /** @return list<SheetFrame> all frames of a card */
    public function ofCard(int $cardId): array
    {
        return $this->frames(
            $this->rows->all('SELECT '.self::COLUMNS.' FROM card_frame f WHERE f.card_id = :of ORDER BY f.id', ['of' => $cardId]),
            'SELECT id FROM card_frame WHERE card_id = :of',
            $cardId,
        );
    }

    /** @return array<int, list<SheetFrame>> by entry, in the order of the sheet */
    public function ofIntake(int $intakeId): array
    {
        $rows = $this->rows->all('SELECT ef.entry_id, '.self::COLUMNS.' FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id JOIN card_frame f ON f.id = ef.frame_id WHERE e.intake_id = :of ORDER BY e.number, ef.position', ['of' => $intakeId]);
        $entries = [];
        foreach ($this->frames($rows, 'SELECT ef.frame_id FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id WHERE e.intake_id = :of', $intakeId) as $i => $frame) {
            $entries[$rows[$i]->int('entry_id')][] = $frame;
        }

        return $entries;
    }

    /**
     * When the dated frames of an entry were taken, in order, and how bright each is.
     *
     * @return array{ticks: list<int>, brightness: list<float|null>} seconds on the wall clock since 1970-01-01T00:00:00; 0 to 1
     */
    public function tape(int $entryId): array
    {
        $rows = $this->rows->all('SELECT floor(extract(epoch FROM f.captured_at))::bigint AS tick, round(f.brightness::numeric, 3)::float AS brightness FROM entry_frame ef JOIN card_frame f ON f.id = ef.frame_id WHERE ef.entry_id = :entry AND f.captured_at IS NOT NULL ORDER BY ef.position', ['entry' => $entryId]);

        return ['ticks' => array_map(static fn (Row $row): int => $row->int('tick'), $rows), 'brightness' => array_map(static fn (Row $row): ?float => $row->floatOrNull('brightness'), $rows)];
    }

    /**
     * @param list<Row> $rows
     * @param string    $ids  SQL that selects the same frames' ids, by `:of`
     *
     * @return list<SheetFrame> one for each row
     */
    private function frames(array $rows, string $ids, int $of): array
    {
        /** @var array<int, list<Row>> $files */
        $files = [];
        foreach ($this->rows->all('SELECT c.frame_id, c.path, c.kind, c.bytes, c.modified_at, c.fingerprint, ff.path AS filed FROM card_file c LEFT JOIN filed_file ff ON ff.id = c.filed_file_id WHERE c.frame_id IN ('.$ids.') ORDER BY c.frame_id, c.position', ['of' => $of]) as $file) {
            $files[$file->int('frame_id')][] = $file;
        }

        return array_map(static fn (Row $row): SheetFrame => self::frame($row, $files[$row->int('id')] ?? []), $rows);
    }

    /** @param list<Row> $rows of its files */
    private static function frame(Row $row, array $rows): SheetFrame
    {
        $files = $fingerprints = $sameAs = [];
        foreach ($rows as $file) {
            $files[] = new CardFile($file->text('path'), FileKind::from($file->text('kind')), $file->int('bytes'), $file->int('modified_at'));
            $fingerprints[] = $file->textOrNull('fingerprint');
            if (null !== $file->textOrNull('filed')) {
                $sameAs[] = $file->text('filed');
            }
        }
        \assert([] !== $files);

        return new SheetFrame(
            $row->int('id'),
            $row->int('card_id'),
            $files,
            $fingerprints,
            self::time($row),
            $row->text('camera'),
            $row->text('facts'),
            $row->text('problems'),
            $row->textOrNull('picture'),
            FrameState::from($row->text('state')),
            $sameAs,
            null === $row->floatOrNull('brightness') ? null : new PictureMeasures($row->float('brightness'), $row->float('black'), $row->float('clipped'), $row->floatOrNull('sharpness')),
        );
    }

    private static function time(Row $row): ?ShotTime
    {
        $time = $row->textOrNull('captured_at');

        return null === $time ? null : ShotTime::fromText($time);
    }
}
