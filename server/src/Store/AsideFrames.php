<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Filed\Whereabouts;

/** Frames that do not lie in their shoot, or are on their way there. */
final readonly class AsideFrames
{
    /** Of `filed_file p`: those of files and sidecars of ours. */
    private const FILES = 'count(p.id) + count(p.sidecar_path)';
    private const BYTES = 'coalesce(sum(coalesce(p.bytes_now, p.bytes) + coalesce(p.sidecar_bytes, 0)), 0)';

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /**
     * Within a transaction: nobody else changes them before its end.
     *
     * @param list<int>|null $frames that are meant; null: all
     *
     * @return list<int> in order; without the loose files of a card
     */
    public function toChange(int $shoot, Whereabouts $in, bool $struck, ?array $frames = null): array
    {
        return self::ids($this->rows->all(
            "SELECT id FROM filed_frame WHERE shoot_id = :shoot AND whereabouts = :in AND NOT loose
                AND (NOT :struck OR verdict = 'struck')
                AND (CAST(:frames AS jsonb) IS NULL OR id IN (SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb))))
                ORDER BY id FOR UPDATE",
            [
                'shoot' => $shoot, 'in' => $in->value, 'struck' => $struck ? 'true' : 'false',
                'frames' => null === $frames ? null : json_encode($frames, \JSON_THROW_ON_ERROR),
            ],
        ));
    }

    /**
     * @param list<int> $frames
     *
     * @return array<int, non-empty-list<int>> ids of the files of each, the earliest first
     */
    public function files(array $frames): array
    {
        $files = [];
        foreach ($this->rows->all(
            'SELECT p.id, p.frame_id FROM filed_file p WHERE p.frame_id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb))) ORDER BY p.id',
            ['frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        ) as $row) {
            $files[$row->int('frame_id')][] = $row->int('id');
        }

        return $files;
    }

    /**
     * Of frames, those with files whose intake is not over.
     *
     * @param list<int> $frames
     *
     * @return list<int>
     */
    public function beingTakenIn(array $frames): array
    {
        return self::ids($this->rows->all(
            "SELECT DISTINCT p.frame_id AS id FROM filed_file p JOIN intake i ON i.id = p.intake_id
                WHERE i.state NOT IN ('done', 'stopped') AND p.frame_id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))",
            ['frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        ));
    }

    /** @param list<int> $frames */
    public function keep(array $frames, Whereabouts $now): void
    {
        $this->database->executeStatement(
            'UPDATE filed_frame SET whereabouts = :now WHERE id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))',
            ['now' => $now->value, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        );
    }

    /**
     * @param list<int> $files
     *
     * @return array{files: int, bytes: int} with their sidecars
     */
    public function sum(array $files): array
    {
        $row = $this->rows->one(
            'SELECT '.self::FILES.' AS files, '.self::BYTES.' AS bytes FROM filed_file p WHERE p.id IN (SELECT
                value::bigint FROM jsonb_array_elements_text(CAST(:files AS jsonb)))',
            ['files' => json_encode($files, \JSON_THROW_ON_ERROR)],
        );

        return ['files' => $row->int('files'), 'bytes' => $row->int('bytes')];
    }

    /** @return array{frames: int, files: int, bytes: int} with their sidecars */
    public function sumOf(int $shoot, Lot $lot): array
    {
        $row = $this->rows->one(
            'SELECT count(DISTINCT f.id) AS frames, '.self::FILES.' AS files, '.self::BYTES.' AS bytes
                FROM filed_frame f JOIN filed_file p ON p.frame_id = f.id
                WHERE f.shoot_id = :shoot AND NOT f.loose AND '.$lot->where(),
            ['shoot' => $shoot],
        );

        return ['frames' => $row->int('frames'), 'files' => $row->int('files'), 'bytes' => $row->int('bytes')];
    }

    /** Files of a shoot that are on their way. */
    public function movingIn(int $shoot): int
    {
        return $this->rows->one(
            'SELECT count(*) AS n FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id
                WHERE f.shoot_id = :shoot AND p.heading IS NOT NULL',
            ['shoot' => $shoot],
        )->int('n');
    }

    /**
     * Files on their way.
     *
     * @param int $after those of a greater id
     *
     * @return list<int> their ids in order
     */
    public function moving(int $after, int $most): array
    {
        return self::ids($this->rows->all(
            'SELECT id FROM filed_file WHERE heading IS NOT NULL AND id > :after ORDER BY id LIMIT '.$most,
            ['after' => $after],
        ));
    }

    /** Whether files of a shoot are on their way with nothing in it. */
    public function isUnderWay(int $shoot): bool
    {
        return null !== $this->rows->first(
            'SELECT 1 FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id
                WHERE f.shoot_id = :shoot AND p.heading IS NOT NULL AND p.move_note IS NULL',
            ['shoot' => $shoot],
        );
    }

    /** Files that are still on their way. */
    public function left(): int
    {
        return $this->rows->one('SELECT count(*) AS n FROM filed_file WHERE heading IS NOT NULL')->int('n');
    }

    /** @return list<string> why files of a shoot are not where they are on their way to, each once */
    public function notes(int $shoot): array
    {
        return array_map(static fn (Row $row): string => $row->text('move_note'), $this->rows->all(
            'SELECT DISTINCT p.move_note FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id
                WHERE f.shoot_id = :shoot AND p.move_note IS NOT NULL ORDER BY 1',
            ['shoot' => $shoot],
        ));
    }

    /**
     * Whether a sidecar belongs to another file, too: one that has it as its own, or one of another frame that has the
     * same name but for its ending; or is a file of its own.
     *
     * @param string $sidecar relative to the shelf
     * @param string $stem    of the file, without its ending, relative to the shelf
     */
    public function isSidecarOfAnother(int $file, int $frame, int $shelf, string $sidecar, string $stem): bool
    {
        return null !== $this->rows->first(
            "SELECT 1 FROM filed_file p WHERE p.shelf_id = :shelf AND p.id <> :file AND (p.sidecar_path = :sidecar
                OR p.path = :sidecar OR p.frame_id <> :frame AND p.path >= :stem || '.' AND p.path < :stem || '/'
                AND strpos(substr(p.path, length(:stem) + 2), '.') = 0)",
            ['shelf' => $shelf, 'file' => $file, 'frame' => $frame, 'sidecar' => $sidecar, 'stem' => $stem],
        );
    }

    /**
     * @param list<Row> $rows
     *
     * @return list<int>
     */
    private static function ids(array $rows): array
    {
        return array_map(static fn (Row $row): int => $row->int('id'), $rows);
    }
}
