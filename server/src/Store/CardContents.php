<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Filed\CardFileSeen;

/** The frames and files that lie on cards, as they were read. */
final readonly class CardContents
{
    public function __construct(private Connection $database, private Rows $rows, private JsonRows $jsonRows)
    {
    }

    /**
     * Frames that need not be read again if their files look the same. What could not be read then is tried again: the
     * reader may have been at fault.
     *
     * @return array<string, array{stamps: list<string>, fingerprints: list<string>}> of their files, by the leading
     *     one's path
     */
    public function read(Card $card): array
    {
        $read = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT f.path, jsonb_agg(c.path || '|' || c.stamp ORDER BY c.position) AS stamps,
                jsonb_agg(c.fingerprint ORDER BY c.position) AS fingerprints
            FROM card_frame f JOIN card_file c ON c.frame_id = f.id
            WHERE f.card_id = :card AND f.is_read
            GROUP BY f.id
            HAVING f.state <> 'unreadable' AND bool_and(c.fingerprint IS NOT NULL)
                AND NOT f.problems @> '[{"code": "part_unreadable"}]'
            SQL, ['card' => $card->id()]) as $row) {
            $read[$row->text('path')] = [
                'stamps' => self::texts($row, 'stamps'),
                'fingerprints' => self::texts($row, 'fingerprints'),
            ];
        }

        return $read;
    }

    /**
     * All frames but these are forgotten, and the files of no frame.
     *
     * @param list<string> $paths of frames' leading files
     */
    public function keepOnly(Card $card, array $paths): void
    {
        $this->database->executeStatement(
            'DELETE FROM card_file WHERE card_id = :card AND frame_id IS NULL',
            ['card' => $card->id()],
        );
        $this->database->executeStatement(
            'DELETE FROM card_frame WHERE card_id = :card AND path NOT IN (SELECT jsonb_array_elements_text(
                CAST(:kept AS jsonb)))',
            ['card' => $card->id(), 'kept' => json_encode($paths, \JSON_THROW_ON_ERROR)],
        );
    }

    /**
     * Files of no frame.
     *
     * @param list<array{CardFile, string|null}> $files each with the rule of housekeeping that it falls under
     */
    public function addOthers(Card $card, array $files): void
    {
        $this->jsonRows->execute(
            'INSERT INTO card_file (card_id, position, path, kind, bytes, modified_at, stamp, housekeeping)
                SELECT :card, 0, path, kind, bytes, modified_at, stamp, housekeeping
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(path text, kind text, bytes bigint,
                    modified_at bigint, stamp text, housekeeping text)',
            array_map(static fn (array $file): array => self::file($file[0]) + ['housekeeping' => $file[1]], $files),
            ['card' => $card->id()],
        );
    }

    /** The card counts as unreadable until it is read again; by itself that is at its next stay. */
    public function readingStopped(Card $card, ?string $insertion, string $why): void
    {
        $this->database->executeStatement(
            "UPDATE card SET state = 'unreadable', problem = :why, listing = NULL, insertion = :stay WHERE id = :card",
            ['card' => $card->id(), 'stay' => $insertion, 'why' => $why],
        );
    }

    /**
     * Frames that were read. A card has thousands, so they come in batches, each in two statements.
     *
     * @param list<FrameReading> $readings
     */
    public function add(Card $card, array $readings): void
    {
        $this->addAll($card, $readings, false);
    }

    /** The files of no frame, which are taken together as if they were one. */
    public function addLoose(Card $card, FrameReading $reading): void
    {
        $this->addAll($card, [$reading], true);
    }

    /** @param list<FrameReading> $readings */
    private function addAll(Card $card, array $readings, bool $areLoose): void
    {
        $frames = $files = [];
        foreach ($readings as $reading) {
            $path = $reading->frame->leading()->path;
            $frames[] = [
                'path' => $path,
                'captured_at' => $reading->facts->time?->at->text(),
                'camera' => $reading->camera(),
                'facts' => $reading->facts->toArray(),
                'model' => $reading->facts->camera->model ?? '',
                'serial' => $reading->facts->camera->serial ?? '',
                'exposure_value' => $reading->exposed()->value,
                'exposure_bias' => $reading->facts->exposure->bias,
                'problems' => $reading->problems,
                'bytes' => $reading->frame->bytes(),
                'picture' => $reading->picture,
                // of loose files those that can be read are copied
                'state' => $reading->isReadable() || $areLoose ? 'new' : 'unreadable',
            ];
            foreach ($reading->frame->files as $position => $file) {
                $files[] = self::file($file) + [
                    'frame' => $path,
                    'position' => $position,
                    'fingerprint' => $reading->fingerprints[$position]?->hex,
                ];
            }
        }
        $this->database->transactional(function () use ($card, $frames, $files, $areLoose): void {
            $this->jsonRows->execute(
                'INSERT INTO card_frame (card_id, path, captured_at, camera, facts, model, serial, exposure_value,
                    exposure_bias, problems, bytes, picture, state, is_read, loose)
                    SELECT :card, path, captured_at, camera, facts, model, serial, exposure_value, exposure_bias,
                    problems, bytes, picture, state, true, :loose
                    FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(path text, captured_at timestamp(3),
                        camera text, facts jsonb, model text, serial text, exposure_value real, exposure_bias real,
                        problems jsonb, bytes bigint, picture text, state text)',
                $frames,
                ['card' => $card->id(), 'loose' => $areLoose ? 'true' : 'false'],
            );
            $this->jsonRows->execute(
                'INSERT INTO card_file (card_id, frame_id, position, path, kind, bytes, modified_at, stamp,
                    fingerprint) SELECT :card, f.id, r.position, r.path, r.kind, r.bytes, r.modified_at, r.stamp,
                    r.fingerprint
                    FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(frame text, position smallint, path text,
                        kind text, bytes bigint, modified_at bigint, stamp text, fingerprint text)
                    JOIN card_frame f ON f.card_id = :card AND f.path = r.frame',
                $files,
                ['card' => $card->id()],
            );
        });
    }

    /** @return int the id of the card's latest frame; where it has none, what was given */
    public function last(Card $card, int $else): int
    {
        return $this->rows->one(
            'SELECT coalesce(max(id), :else) AS last FROM card_frame WHERE card_id = :card',
            ['card' => $card->id(), 'else' => $else],
        )->int('last');
    }

    /** @return string|null offset from UTC of the clock of the latest picture that says it, as `+02:00` */
    public function offset(Card $card): ?string
    {
        return $this->rows->first(
            "SELECT facts ->> 'offset' AS \"offset\" FROM card_frame WHERE card_id = :card
                AND facts ->> 'offset' IS NOT NULL ORDER BY captured_at DESC LIMIT 1",
            ['card' => $card->id()],
        )?->text('offset');
    }

    /** @return array<string, string> the stamps of all files, by their paths */
    public function stamps(Card $card): array
    {
        $stamps = [];
        foreach ($this->rows->all(
            'SELECT path, stamp FROM card_file WHERE card_id = :card',
            ['card' => $card->id()],
        ) as $row) {
            $stamps[$row->text('path')] = $row->text('stamp');
        }

        return $stamps;
    }

    /**
     * All files, and which of them the ledger has as they came.
     *
     * @return list<array{CardFileSeen, int|null}> without the copies; the id of the filed file
     */
    public function seen(Card $card): array
    {
        return array_map(static fn (Row $row): array => [
            new CardFileSeen(
                $row->text('path'),
                $row->intOrNull('frame_id'),
                $row->textOrNull('housekeeping'),
                $row->bool('left_out'),
                $row->bool('let_go'),
                null !== $row->intOrNull('filed'),
            ),
            $row->intOrNull('filed'),
        ], $this->rows->all(<<<'SQL'
            SELECT c.path, CASE WHEN r.loose THEN NULL ELSE c.frame_id END AS frame_id, c.housekeeping,
                coalesce(r.left_out, false) AS left_out,
                coalesce(r.let_go, false) AS let_go,
                CASE WHEN f.picture_replaced THEN NULL ELSE c.filed_file_id END AS filed
            FROM card_file c LEFT JOIN card_frame r ON r.id = c.frame_id
                LEFT JOIN filed_file f ON f.id = c.filed_file_id
            WHERE c.card_id = :card ORDER BY c.path
            SQL, ['card' => $card->id()]));
    }

    /**
     * @return array<int, list<array{path: string, kind: FileKind, fingerprint: string|null}>> the files of each frame,
     *     by its id
     */
    public function ofFrames(Card $card): array
    {
        $frames = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT frame_id, path, kind, fingerprint FROM card_file
            WHERE card_id = :card AND frame_id IS NOT NULL ORDER BY frame_id, id
            SQL, ['card' => $card->id()]) as $row) {
            $frames[$row->int('frame_id')][] = [
                'path' => $row->text('path'),
                'kind' => FileKind::from($row->text('kind')),
                'fingerprint' => $row->textOrNull('fingerprint'),
            ];
        }

        return $frames;
    }

    /**
     * Files that are to be compared with the ledger: those of which it has one of the same likeness, or is said to have
     * one.
     *
     * @param bool $all whether what counts as filed is compared anew, too
     *
     * @return list<ComparedFile> frame by frame
     */
    public function toBeCompared(Card $card, bool $all): array
    {
        return array_map(static fn (Row $row): ComparedFile => new ComparedFile(
            $row->int('id'),
            $row->int('frame_id'),
            $row->text('path'),
            $row->textOrNull('fingerprint'),
            $row->intOrNull('filed_file_id'),
        ), $this->rows->all(<<<'SQL'
            SELECT c.id, c.frame_id, c.path, c.fingerprint, c.filed_file_id
            FROM card_file c JOIN card_frame f ON f.id = c.frame_id
            WHERE c.card_id = :card AND (f.state = 'new' OR f.state = 'filed' AND :all)
                AND (c.filed_file_id IS NULL OR :all)
                AND (c.filed_file_id IS NOT NULL OR c.repairs_file_id IS NOT NULL
                    OR EXISTS (SELECT FROM filed_file l WHERE l.fingerprint = c.fingerprint))
            ORDER BY c.frame_id, c.position
            SQL, ['card' => $card->id(), 'all' => $all ? 'true' : 'false']));
    }

    /**
     * What came of comparing files; but of those that were filed meanwhile it is known better.
     *
     * @param list<ComparedFile> $files as they count from now on
     */
    public function compared(array $files): void
    {
        $this->database->transactional(function () use ($files): void {
            $frames = array_values(array_unique(array_column($files, 'frame')));
            $this->lock($frames);
            $this->jsonRows->execute(
                <<<'SQL'
                UPDATE card_file c SET filed_file_id = r.filed, repairs_file_id = r.repairs
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, before bigint, filed bigint,
                    repairs bigint)
                WHERE c.id = r.id AND c.filed_file_id IS NOT DISTINCT FROM r.before
                    AND (c.filed_file_id IS DISTINCT FROM r.filed OR c.repairs_file_id IS DISTINCT FROM r.repairs)
                SQL,
                array_map(static fn (ComparedFile $file): array => [
                    'id' => $file->id, 'before' => $file->before, 'filed' => $file->filed,
                    'repairs' => $file->repairs,
                ], $files),
            );
            $this->frameStates($frames);
        });
    }

    /**
     * From now on the file that an intake filed counts as filed, and its frame when all its files are; but not if it is
     * another one than was read.
     *
     * @param string $stamp of the card's file before it was copied
     */
    public function filed(Transfer $transfer, int $filed, string $stamp): void
    {
        $this->filedAll([['transfer' => $transfer, 'filed' => $filed, 'stamp' => $stamp]]);
    }

    /** @param list<array{transfer: Transfer, filed: int, stamp: string}> $files as for {@see self::filed()} */
    public function filedAll(array $files): void
    {
        $frames = array_values(array_unique(array_map(
            static fn (array $one): int => $one['transfer']->frame(),
            $files,
        )));
        $this->lock($frames);
        $this->jsonRows->execute(
            <<<'SQL'
            UPDATE card_file c SET filed_file_id = r.filed, repairs_file_id = NULL
            FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(filed bigint, card int, path text, stamp text)
            WHERE c.card_id = r.card AND c.path = r.path AND c.stamp = r.stamp
            SQL,
            array_map(static fn (array $one): array => [
                'filed' => $one['filed'],
                'card' => $one['transfer']->card(),
                'path' => $one['transfer']->source(),
                'stamp' => $one['stamp'],
            ], $files),
        );
        $this->frameStates($frames);
    }

    /**
     * Nobody else changes what counts as filed of these frames until the transaction ends.
     *
     * @param list<int> $frames
     */
    private function lock(array $frames): void
    {
        $this->jsonRows->execute(
            'SELECT FROM card_frame WHERE id = ANY(ARRAY(SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:rows AS jsonb)))) ORDER BY id FOR UPDATE',
            $frames,
        );
    }

    /**
     * A frame is filed when all of its files are.
     *
     * @param list<int> $frames that are locked
     */
    private function frameStates(array $frames): void
    {
        $this->jsonRows->execute(
            <<<'SQL'
            UPDATE card_frame f SET state = now.state
            FROM (SELECT frame_id, CASE WHEN bool_and(filed_file_id IS NOT NULL) THEN 'filed' ELSE 'new' END AS state
                FROM card_file WHERE frame_id = ANY(ARRAY(SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:rows AS jsonb)))) GROUP BY frame_id) AS now
            WHERE f.id = now.frame_id AND f.state IN ('new', 'filed') AND f.state <> now.state
            SQL,
            $frames,
        );
    }

    /** @return int how many frames that were left out are let go of now that were not before */
    public function letGo(Card $card): int
    {
        return (int) $this->database->executeStatement(
            "UPDATE card_frame SET let_go = true WHERE card_id = :card AND left_out AND state = 'new' AND NOT let_go",
            ['card' => $card->id()],
        );
    }

    /** The word that copies on one drive are enough, for this card and what is on it now. */
    public function oneDriveIsEnough(Card $card): void
    {
        $card->oneDriveIsEnough = true;
        $this->database->executeStatement('UPDATE card SET one_drive_is_enough = true WHERE id = ?', [$card->id()]);
    }

    /** @return list<int> frames of a sheet's cards that are left out */
    public function leftOut(Intake $intake): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(
                'SELECT f.id FROM card_frame f JOIN intake_card ic ON ic.card_id = f.card_id
                    WHERE ic.intake_id = :intake AND f.left_out',
                ['intake' => $intake->id()],
            ),
        );
    }

    /** @param list<int> $frames others than those of the sheet's cards are passed over */
    public function leaveOut(Intake $intake, array $frames, bool $out): void
    {
        $this->jsonRows->execute(
            'UPDATE card_frame f SET left_out = :out, let_go = let_go AND :out
                FROM jsonb_array_elements_text(CAST(:rows AS jsonb)) AS r(id), intake_card ic
                WHERE f.id = r.id::bigint AND ic.card_id = f.card_id AND ic.intake_id = :intake',
            $frames,
            ['out' => $out ? 'true' : 'false', 'intake' => $intake->id()],
        );
    }

    /**
     * What a card holds, in short: `first` and `last` moment, `days`, `new` frames, seven `pictures` spread over it,
     * and the `sheet` that is open for it with its `sheet_state`.
     *
     * @param list<int> $cards
     *
     * @return array<int, Row> by card; without those that hold no frame
     */
    public function inShort(array $cards): array
    {
        $sums = [];
        foreach ([] === $cards ? [] : $this->rows->all(<<<'SQL'
            SELECT f.card_id, min(f.captured_at) AS first, max(f.captured_at) AS last,
                count(DISTINCT f.captured_at::date) AS days, count(*) FILTER (WHERE f.state = 'new') AS new,
                coalesce((
                    SELECT jsonb_agg(picture ORDER BY captured_at) FROM (
                        SELECT DISTINCT ON (part) part, picture, captured_at FROM (
                            SELECT picture, captured_at, ntile(7) OVER (ORDER BY captured_at) AS part FROM card_frame p
                            WHERE p.card_id = f.card_id AND p.picture IS NOT NULL
                        ) AS parts ORDER BY part, captured_at
                    ) AS firsts
                ), '[]') AS pictures,
                open.id AS sheet, open.state AS sheet_state
            FROM card_frame f
            LEFT JOIN LATERAL (
                SELECT i.id, i.state FROM intake i JOIN intake_card ic ON ic.intake_id = i.id
                WHERE ic.card_id = f.card_id AND i.state IN ('sheet', 'waiting', 'running', 'paused')
                ORDER BY i.id DESC LIMIT 1
            ) AS open ON true
            WHERE f.card_id IN (:cards) AND NOT f.loose GROUP BY f.card_id, open.id, open.state
            SQL, ['cards' => $cards]) as $row) {
            $sums[$row->int('card_id')] = $row;
        }

        return $sums;
    }

    /**
     * @return list<Row> up to four frames of different cards and hours, the latest night frame among them, for the day
     *     boundary: `path`, `captured_at`, `picture`, `camera`, `model`, `serial`, the card's `label`, the entry's
     *     `name`
     */
    public function samples(): array
    {
        return $this->rows->all(<<<'SQL'
            WITH frames AS (
                SELECT f.id, f.card_id, f.path, f.captured_at, f.picture, f.camera, f.model, f.serial, k.label
                FROM card_frame f JOIN card k ON k.id = f.card_id AND k.present
                WHERE f.picture IS NOT NULL AND f.captured_at IS NOT NULL
            ), samples AS (
                (SELECT * FROM frames WHERE captured_at::time < '04:00' ORDER BY captured_at DESC LIMIT 1)
                UNION (SELECT DISTINCT ON (card_id) * FROM frames ORDER BY card_id, captured_at)
            )
            SELECT s.*, coalesce((SELECT max(e.name) FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id
                WHERE ef.frame_id = s.id), '') AS name
            FROM samples s ORDER BY s.captured_at LIMIT 4
            SQL);
    }

    /** @return list<string> absolute paths of files with this fingerprint, on cards and shelves */
    public function paths(string $fingerprint): array
    {
        return array_map(static fn (Row $row): string => $row->text('path'), $this->rows->all(<<<'SQL'
            SELECT k.root || '/' || c.path AS path FROM card_file c JOIN card k ON k.id = c.card_id
                WHERE c.fingerprint = :fingerprint AND k.present
            UNION ALL SELECT s.root || '/' || f.path FROM filed_file f JOIN shelf s ON s.id = f.shelf_id
                WHERE f.fingerprint = :fingerprint
            UNION ALL SELECT s.twin_root || '/' || f.path FROM filed_file f JOIN shelf s ON s.id = f.shelf_id
                WHERE f.fingerprint = :fingerprint AND s.twin_root IS NOT NULL
            SQL, ['fingerprint' => $fingerprint]));
    }

    /** @return array<string, mixed> */
    private static function file(CardFile $file): array
    {
        return [
            'path' => $file->path,
            'kind' => $file->kind->value,
            'bytes' => $file->bytes,
            'modified_at' => $file->modifiedAt,
            'stamp' => $file->stamp,
        ];
    }

    /** @return list<string> */
    private static function texts(Row $row, string $column): array
    {
        return array_values(array_filter($row->json($column), is_string(...)));
    }
}
