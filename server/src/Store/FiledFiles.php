<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\DngState;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FilePlaces;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Filed\Whereabouts;

/**
 * The filed files. What is handed out to be read is as the database has it now and changes nothing; what is to become
 * of a file is done in {@see self::change()}, on its locked row.
 */
final readonly class FiledFiles
{
    private const TOGETHER = 1000;
    /** What waits and can be written now, as {@see FiledFile::isToBeWritten()} says it of one. */
    private const TO_BE_WRITTEN = <<<'SQL'
        f.metadata_state = 'waiting' AND f.outside IS NULL AND f.whereabouts NOT IN ('deleted', 'forgotten')
        AND NOT (f.dng_state IN ('waiting', 'leaving', 'returning') AND f.dng_choice <> 'beside')
        SQL;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private Rows $rows,
        private DriveTable $drives,
        private EntityRows $entityRows,
    ) {
    }

    public function find(int $id): ?FiledFile
    {
        $file = $this->entities->find(FiledFile::class, $id);
        if (null !== $file) {
            $this->entities->detach($file);
        }

        return $file;
    }

    public function get(int $id): FiledFile
    {
        return $this->find($id) ?? throw new \LogicException('The filed file is gone.');
    }

    /** @return list<FiledFile> of a frame, the earliest first */
    public function ofFrame(int $frame): array
    {
        return $this->read(
            'SELECT f FROM '.FiledFile::class.' f WHERE f.frame = :frame ORDER BY f.id',
            ['frame' => $frame],
        );
    }

    /** @return list<FiledFile> of a shoot that hold metadata, the earliest first */
    public function ofShoot(int $shoot): array
    {
        return $this->read(
            'SELECT f FROM '.FiledFile::class.' f JOIN '.FiledFrame::class.' r WITH r.id = f.frame
                WHERE r.shoot = :shoot AND f.holdsMetadata = true AND f.move.whereabouts NOT IN (:gone) ORDER BY f.id',
            ['shoot' => $shoot, 'gone' => [Whereabouts::Deleted->value, Whereabouts::Forgotten->value]],
        );
    }

    /** @return list<FiledFile> of a shoot that another program changed, by the time of the shot */
    public function changedOutside(int $shoot): array
    {
        return $this->read(
            'SELECT f FROM '.FiledFile::class.' f JOIN '.FiledFrame::class.' r WITH r.id = f.frame
                WHERE r.shoot = :shoot AND f.outside IS NOT NULL ORDER BY r.capturedAt, f.id',
            ['shoot' => $shoot],
        );
    }

    /**
     * Frames with files that were not asked yet what they say themselves.
     *
     * @param list<int>|null $frames that are meant; null: all of the shoot
     *
     * @return list<int> their ids in order
     */
    public function framesNotAsked(int $shoot, ?array $frames): array
    {
        return $this->ids(<<<'SQL'
            SELECT f.id FROM filed_frame f WHERE f.shoot_id = :shoot
                AND EXISTS (SELECT FROM filed_file p WHERE p.frame_id = f.id AND p.holds_metadata AND NOT p.own_taken)
                AND (CAST(:frames AS jsonb) IS NULL OR f.id IN (SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb))))
            ORDER BY f.id
            SQL, ['shoot' => $shoot, 'frames' => null === $frames ? null : json_encode($frames, \JSON_THROW_ON_ERROR)]);
    }

    /**
     * @return list<FiledFile> of a frame that hold metadata and were not asked yet what they say, the earliest first
     */
    public function notAsked(int $frame): array
    {
        return $this->read(
            'SELECT f FROM '.FiledFile::class.' f WHERE f.frame = :frame AND f.holdsMetadata = true
                AND f.ownTaken = false ORDER BY f.id',
            ['frame' => $frame],
        );
    }

    /**
     * Keeps a file that is filed just now.
     *
     * @return int its id
     */
    public function add(FiledFile $file): int
    {
        $this->entityRows->insert($file);

        return $file->id();
    }

    /** @param list<FiledFile> $files that are filed just now; they have their ids then */
    public function addAll(array $files): void
    {
        $this->entityRows->insertAllWithIds(FiledFile::class, $files);
    }

    /**
     * The one way in which a filed file changes: its row is locked, what is done is done to what the database has now,
     * and all of it is kept or nothing.
     *
     * @template T
     *
     * @param \Closure(FiledFile): T $do may write elsewhere, too: that belongs to the same transaction
     *
     * @return T
     */
    public function change(int $id, \Closure $do): mixed
    {
        return $this->database->transactional(function () use ($id, $do): mixed {
            $file = $this->entities->find(FiledFile::class, $id, LockMode::PESSIMISTIC_WRITE)
                ?? throw new \LogicException('The filed file is gone.');
            $this->entities->detach($file);
            $before = $this->entityRows->values($file);
            $result = $do($file);
            $this->entityRows->update($file, $before);

            return $result;
        });
    }

    /**
     * As {@see self::change()}, of many in few statements; all of it is kept or nothing.
     *
     * @param list<int>                $ids
     * @param \Closure(FiledFile): void $do
     */
    public function changeAll(array $ids, \Closure $do): void
    {
        $this->database->transactional(function () use ($ids, $do): void {
            foreach (array_chunk($ids, self::TOGETHER) as $some) {
                $dql = 'SELECT f FROM '.FiledFile::class.' f WHERE f.id IN (:ids) ORDER BY f.id';
                $changes = [];
                foreach ($this->read($dql, ['ids' => $some], true) as $file) {
                    $before = clone $file;
                    $do($file);
                    $changes[] = [$file, $before];
                }
                $this->entityRows->updateAll(FiledFile::class, $changes);
            }
        });
    }

    /**
     * What is said of frames changed: {@see FiledFile::metadataAsked()} for all of their files in one statement, since
     * there may be very many (a test holds the two together).
     *
     * @param list<int> $frames
     */
    public function ask(array $frames): void
    {
        $this->database->executeStatement(<<<'SQL'
            UPDATE filed_file SET metadata_state = 'waiting', metadata_wanted = metadata_wanted + 1,
                metadata_note = NULL, metadata_tries = 0
            WHERE holds_metadata AND frame_id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
            SQL, ['frames' => json_encode($frames, \JSON_THROW_ON_ERROR)]);
    }

    /**
     * How far the writing into files of frames has come.
     *
     * @param list<int> $frames of the shoot
     *
     * @return array{int, list<string>} files that still wait, and why others were refused
     */
    public function toldOfWriting(int $shoot, array $frames): array
    {
        $waiting = 0;
        $refused = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT f.metadata_state, f.metadata_note FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id
            WHERE r.shoot_id = :shoot AND f.metadata_state IN ('waiting', 'refused')
                AND r.id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
            ORDER BY f.id
            SQL, ['shoot' => $shoot, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)]) as $row) {
            if (MetadataState::Waiting->value === $row->text('metadata_state')) {
                ++$waiting;
            } elseif (null !== $note = $row->textOrNull('metadata_note')) {
                $refused[] = $note;
            }
        }

        return [$waiting, $refused];
    }

    public function isNameGiven(int $shelf, string $path): bool
    {
        return [] !== $this->namesGiven($shelf, [$path]);
    }

    /**
     * Of names, those that the ledger has given to a file, be it there or not.
     *
     * @param list<string> $paths relative to the shelf
     *
     * @return array<string, true>
     */
    public function namesGiven(int $shelf, array $paths): array
    {
        $given = [];
        foreach ($this->rows->all(
            // one by one, by its index: how few they are is not known beforehand
            'SELECT f.path FROM jsonb_array_elements_text(CAST(:paths AS jsonb)) AS p,
                LATERAL (SELECT path FROM filed_file WHERE shelf_id = :shelf AND path = p.value
                    UNION ALL SELECT home_path FROM filed_file WHERE shelf_id = :shelf AND home_path = p.value
                    UNION ALL SELECT moves_to FROM filed_file WHERE shelf_id = :shelf AND moves_to = p.value
                    OFFSET 0) AS f',
            ['shelf' => $shelf, 'paths' => json_encode($paths, \JSON_THROW_ON_ERROR)],
        ) as $row) {
            $given[$row->text('path')] = true;
        }

        return $given;
    }

    /**
     * Files that can be written into now.
     *
     * @param int|null $intake that filed them; null: of all intakes that are over
     * @param int      $after  those of a greater id
     *
     * @return list<int> their ids in order
     */
    public function toBeWritten(?int $intake, int $after, int $most): array
    {
        return $this->ids(
            'SELECT f.id FROM filed_file f WHERE f.id > :after AND '.self::TO_BE_WRITTEN.' AND '
                .self::filedBy($intake, '(f.id, f.made_from)').' ORDER BY f.id LIMIT '.$most,
            ['after' => $after] + (null === $intake ? [] : ['intake' => $intake]),
        );
    }

    /** Files that are still to be written, those of intakes under way not counted. */
    public function leftToWrite(): int
    {
        return $this->rows->one(
            "SELECT count(*) AS n FROM filed_file f JOIN intake i ON i.id = f.intake_id
                WHERE f.metadata_state = 'waiting' AND f.outside IS NULL AND i.state IN ('done', 'stopped')
                    AND f.whereabouts NOT IN ('deleted', 'forgotten')",
        )->int('n');
    }

    /**
     * Files that were received with this fingerprint; not those whose picture another program replaced, nor those that
     * were deleted: they are not what was received any more. A card is compared file by file, so no more is read than
     * that needs.
     *
     * @return list<array{id: int, path: string, digest: Digest, roots: list<string>, drives: array<mixed>}> with the
     *     digest of what was received, and the roots of the shelf and its twin
     */
    public function like(Fingerprint $fingerprint): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('id'),
            'path' => $row->text('path'),
            'digest' => Digest::fromHex($row->text('digest')),
            'roots' => array_values(array_filter([$row->text('root'), $row->textOrNull('twin_root')], is_string(...))),
            'drives' => $row->json('drives'),
        ], $this->rows->all(<<<'SQL'
            SELECT f.id, f.path, f.digest, s.root, s.twin_root, s.drives
            FROM filed_file f JOIN shelf s ON s.id = f.shelf_id
            WHERE f.fingerprint = :fingerprint AND NOT f.picture_replaced AND f.whereabouts <> 'deleted'
            ORDER BY f.id
            SQL, ['fingerprint' => $fingerprint->hex]));
    }

    /**
     * Files to be checked, a page at a time.
     *
     * @param string|null $what a shoot's name or folder, or a shelf's name, root or folder of a shoot; null: all
     *
     * @return array<int, string> the folder of each one's shoot, by the file's id
     */
    public function toBeChecked(?string $what, int $after, int $most): array
    {
        $folders = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT f.id, o.folder
            FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id JOIN shoot o ON o.id = r.shoot_id
                JOIN shelf s ON s.id = f.shelf_id
            WHERE f.id > :after AND f.whereabouts NOT IN ('deleted', 'forgotten') AND f.heading IS NULL
                AND (CAST(:what AS text) IS NULL
                OR :what IN (o.name, o.folder, s.name, s.root, s.root || '/' || o.folder)) ORDER BY f.id LIMIT :most
            SQL, ['after' => $after, 'what' => $what, 'most' => $most]) as $row) {
            $folders[$row->int('id')] = $row->text('folder');
        }

        return $folders;
    }

    /**
     * @param list<int> $ids
     *
     * @return list<FiledFile> in this order
     */
    public function many(array $ids): array
    {
        return array_merge([], ...array_map(fn (array $some): array => $this->read(
            'SELECT f FROM '.FiledFile::class.' f WHERE f.id IN (:ids) ORDER BY f.id',
            ['ids' => $some],
        ), array_chunk($ids, self::TOGETHER)));
    }

    /**
     * Files on their way to DNG or back.
     *
     * @param int|null $intake as for {@see self::toBeWritten()}
     *
     * @return array<int, DngState> by their ids, in order
     */
    public function toBeConverted(?int $intake, int $after, int $most): array
    {
        $states = [];
        $rows = $this->rows->all(
            "SELECT f.id, f.dng_state FROM filed_file f
                WHERE f.id > :after AND f.dng_state IN ('waiting', 'leaving', 'returning') AND "
                .self::filedBy($intake, '(f.id)').' ORDER BY f.id LIMIT '.$most,
            ['after' => $after] + (null === $intake ? [] : ['intake' => $intake]),
        );
        foreach ($rows as $row) {
            $states[$row->int('id')] = DngState::from($row->text('dng_state'));
        }

        return $states;
    }

    /**
     * Of files, those that an intake filed; null: those of all intakes that are over. Asked of one file after another
     * (OFFSET 0), since few wait among the very many that an intake files.
     */
    private static function filedBy(?int $intake, string $files): string
    {
        return null === $intake
            ? "EXISTS (SELECT FROM intake i WHERE i.id = f.intake_id AND i.state IN ('done', 'stopped') OFFSET 0)"
            : "EXISTS (SELECT FROM transfer t WHERE t.filed_file_id IN $files AND t.intake_id = :intake
                AND t.state = 'filed' OFFSET 0)";
    }

    /** The card that a file, or the raw file of a DNG, came from last; null where none is known. */
    public function card(int $id): ?CardAt
    {
        $row = $this->rows->first(<<<'SQL'
            SELECT c.id, c.root, c.label, c.identity FROM transfer t JOIN card c ON c.id = t.card_id
            JOIN filed_file f ON t.filed_file_id IN (f.id, f.made_from)
            WHERE f.id = :file ORDER BY t.id DESC LIMIT 1
            SQL, ['file' => $id]);

        return null === $row
            ? null
            : new CardAt($row->int('id'), $row->text('root'), $row->text('label'), $row->text('identity'));
    }

    /** Where the copies of a file lie. */
    public function places(FiledFile $file): FilePlaces
    {
        return $this->placesOf([$file])[$file->id()] ?? throw new \LogicException('The filed file is gone.');
    }

    /**
     * Where the copies of files lie, asked once for all of them; the drives as they are at this moment.
     *
     * @param list<FiledFile> $files
     *
     * @return array<int, FilePlaces> by the file's id
     */
    public function placesOf(array $files): array
    {
        $ids = array_map(static fn (FiledFile $file): int => $file->id(), $files);
        $rows = $this->rows->all(
            <<<'SQL'
            SELECT f.id, s.root, s.twin_root, s.drives, (SELECT coalesce(jsonb_agg(DISTINCT p.root), '[]')
                FROM filed_copy c JOIN place p ON p.id = c.place_id WHERE c.file_id = f.id
                AND p.root IN (s.root, s.twin_root)) AS copy_roots
            FROM filed_file f JOIN shelf s ON s.id = f.shelf_id
            WHERE f.id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))
            SQL,
            ['ids' => json_encode($ids, \JSON_THROW_ON_ERROR)],
        );
        $places = $same = [];
        foreach ($rows as $row) {
            // those of a whole shoot lie in the same places, whose drives are looked for once
            $key = $row->text('root').' '.$row->text('copy_roots');
            $places[$row->int('id')] = $same[$key] ??= FilePlaces::of(
                $row->text('root'),
                $row->textOrNull('twin_root'),
                array_values(array_filter($row->json('copy_roots'), is_string(...))),
                Drives::fromRecord($this->drives, $row->json('drives')),
            );
        }

        return $places;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<FiledFile>
     */
    private function read(string $dql, array $parameters, bool $lock = false): array
    {
        $query = $this->entities->createQuery($dql);
        if ($lock) {
            $query->setLockMode(LockMode::PESSIMISTIC_WRITE);
        }
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value);
        }
        $found = $query->getResult();
        $files = [];
        foreach (\is_array($found) ? $found : [] as $file) {
            \assert($file instanceof FiledFile);
            $this->entities->detach($file);
            $files[] = $file;
        }

        return $files;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<int>
     */
    private function ids(string $sql, array $parameters): array
    {
        return array_map(static fn (Row $row): int => $row->int('id'), $this->rows->all($sql, $parameters));
    }
}
