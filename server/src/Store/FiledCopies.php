<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\CopyLedger;
use Velvet\Core\Filed\CopyPlace;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\KeptCopy;

/**
 * Which copy of a filed file was verified in which place, with what content and when. Nothing counts as a copy but
 * these.
 */
final readonly class FiledCopies implements CopyLedger
{
    private const COPY = <<<'SQL'
        SELECT f.id AS file_id, f.path, coalesce(f.digest_now, f.digest) AS digest,
        coalesce(f.bytes_now, f.bytes) AS bytes, f.picture_replaced, f.metadata_digest, f.metadata_bytes,
               c.place_id, c.state, c.digest AS verified, c.stamp, c.fingerprint, f.shelf_id
        FROM filed_file f JOIN shelf s ON s.id = f.shelf_id JOIN filed_copy c ON c.file_id = f.id
            JOIN place p ON p.id = c.place_id
        SQL;

    public function __construct(
        private Connection $database,
        private Rows $rows,
        private JsonRows $jsonRows,
        private Places $places,
        private ClockInterface $clock,
    ) {
    }

    public function of(array $files): array
    {
        if ([] === $files) {
            return [];
        }
        $rows = $this->rows->all(
            self::COPY." WHERE f.id IN (:files) AND f.heading IS DISTINCT FROM 'deleted'
                ORDER BY f.id, p.root <> s.root, p.id",
            ['files' => $files],
        );
        $places = $this->copyPlaces(array_map(static fn (Row $row): int => $row->int('place_id'), $rows));

        return array_map(static fn (Row $row): KeptCopy => self::read($row, $places[$row->int('place_id')]), $rows);
    }

    /**
     * Few, for the copies of thousands of files.
     *
     * @param list<int> $ids
     *
     * @return array<int, CopyPlace> by their ids
     */
    private function copyPlaces(array $ids): array
    {
        $places = [];
        foreach ([] === $ids ? [] : $this->rows->all(
            'SELECT p.id, p.root, p.drive, s.root AS shelf_root, s.twin_root, s.drives
                FROM place p JOIN shelf s ON s.id = p.shelf_id WHERE p.id IN (:places)',
            ['places' => array_values(array_unique($ids))],
        ) as $row) {
            $root = $row->text('root');
            $places[$row->int('id')] = new CopyPlace(
                $row->int('id'),
                $root,
                $row->text('drive'),
                \in_array($root, [$row->text('shelf_root'), $row->textOrNull('twin_root')], true),
                $row->json('drives'),
            );
        }

        return $places;
    }

    public function whole(KeptCopy $copy): void
    {
        $this->database->transactional(function () use ($copy): void {
            if (null === $this->rows->first(
                'SELECT 1 FROM filed_copy WHERE file_id = :file AND place_id = :place AND digest = :verified
                    FOR UPDATE',
                ['file' => $copy->file, 'place' => $copy->place->id, 'verified' => $copy->verified->hex],
            )) {
                return; // another content was verified there meanwhile
            }
            $this->verified(
                $copy->file,
                $copy->shelf,
                [$copy->place->root],
                $copy->path,
                $copy->content->digest,
                $copy->content->bytes,
            );
        });
    }

    public function damaged(KeptCopy $copy, CopyStanding $standing): void
    {
        $this->found($copy->file, $copy->place->id, $copy->path, $standing, $copy->verified->hex);
    }

    /**
     * Copies that were just verified, or were just given a content that was.
     *
     * @param list<string> $roots of the places
     * @param string       $path  relative to them
     *
     * @return list<string> roots that went this very moment, or lost the file: no copy there could be counted on
     */
    public function verified(int $file, int $shelf, array $roots, string $path, Digest $digest, int $bytes): array
    {
        $gone = [];
        foreach ($roots as $root) {
            $place = $this->places->at($shelf, $root);
            $stamp = FileStamp::of($root.'/'.$path);
            if (null === $place || null === $stamp) {
                $gone[] = $root;
                continue;
            }
            $this->database->executeStatement(<<<'SQL'
                INSERT INTO filed_copy (file_id, place_id, state, digest, bytes, stamp, fingerprint, verified_at)
                    VALUES (:file, :place, 'whole', :digest, :bytes, :stamp, :fingerprint, :at)
                ON CONFLICT (file_id, place_id) DO UPDATE
                SET state = 'whole', digest = excluded.digest, bytes = excluded.bytes, stamp = excluded.stamp,
                    fingerprint = excluded.fingerprint, verified_at = excluded.verified_at
                SQL, [
                'file' => $file,
                'place' => $place,
                'digest' => $digest->hex,
                'bytes' => $bytes,
                'stamp' => $stamp->text(),
                'fingerprint' => Fingerprint::ofPath($root.'/'.$path),
                'at' => $this->clock->now()->format('c'),
            ]);
            // what was only assumed of a place whose drive was not known is known now
            $this->database->executeStatement(
                "DELETE FROM filed_copy c USING place p WHERE p.id = c.place_id AND c.file_id = :file AND p.root = :root
                    AND p.drive = ''",
                ['file' => $file, 'root' => $root],
            );
        }

        return $gone;
    }

    /**
     * As {@see self::verified}, where all of the places must have it: else nothing is set down at all.
     *
     * @param list<string> $roots of the places
     * @param string       $path  relative to them
     *
     * @throws DriveGone when one of them went before it could be set down; the caller's transaction must not stand then
     */
    public function allVerified(int $file, int $shelf, array $roots, string $path, Digest $digest, int $bytes): void
    {
        $gone = $this->verified($file, $shelf, $roots, $path, $digest, $bytes);
        if ([] !== $gone) {
            throw DriveGone::from($gone[0].'/'.$path);
        }
    }

    /**
     * Copies of files that are filed just now, verified in every place. They lie on the drives that they were verified
     * on: one that went since has them, wherever it is.
     *
     * @param Drives                 $drives that were asked before they were written
     * @param non-empty-list<string> $roots  of the places
     * @param list<array{file: int, digest: Digest, bytes: int, fingerprint: string, stamps: list<string>}> $files with
     *     the stamps of the copies, in the order of the roots
     *
     * @throws DriveGone when a drive that is not known went before they could be set down; the caller's transaction
     *     must not stand then
     */
    public function add(int $shelf, Drives $drives, array $roots, array $files): void
    {
        $at = $this->clock->now()->format('c');
        $rows = [];
        foreach ($roots as $i => $root) {
            $drive = $drives->known[$root]->id ?? '';
            $place = '' === $drive
                ? $this->places->at($shelf, $root) ?? throw DriveGone::from($root)
                : $this->places->on($drive, $shelf, $root);
            foreach ($files as $one) {
                $rows[] = [
                    'file_id' => $one['file'], 'place_id' => $place, 'digest' => $one['digest']->hex,
                    'bytes' => $one['bytes'], 'stamp' => $one['stamps'][$i], 'fingerprint' => $one['fingerprint'],
                    'verified_at' => $at,
                ];
            }
        }
        $this->jsonRows->execute(<<<'SQL'
            INSERT INTO filed_copy (file_id, place_id, state, digest, bytes, stamp, fingerprint, verified_at)
            SELECT file_id, place_id, 'whole', digest, bytes, stamp, fingerprint, verified_at
            FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(file_id bigint, place_id int, digest text, bytes bigint,
                stamp text, fingerprint text, verified_at timestamptz)
            SQL, $rows);
    }

    /** The copies of one file are those of another one from now on, as of a raw file that is taken out of its DNG. */
    public function become(int $file, int $other): void
    {
        $this->database->executeStatement(
            'UPDATE filed_copy SET file_id = :other WHERE file_id = :file',
            ['other' => $other, 'file' => $file],
        );
    }

    /**
     * Copies that were moved, and are what they were: those that were as they were verified count as that.
     *
     * @param array<string, array{string, string}> $stamps of each before and after, by its root
     */
    public function moved(int $file, array $stamps): void
    {
        foreach ($stamps as $root => [$before, $after]) {
            $this->database->executeStatement(
                'UPDATE filed_copy c SET stamp = :after FROM place p WHERE p.id = c.place_id AND c.file_id = :file
                    AND p.root = :root AND c.stamp = :before',
                ['file' => $file, 'root' => $root, 'before' => $before, 'after' => $after],
            );
        }
    }

    /** No copy of a file is left. */
    public function deleted(int $file): void
    {
        $this->database->executeStatement('DELETE FROM filed_copy WHERE file_id = :file', ['file' => $file]);
    }

    /**
     * What was found at a root, on the drive that is connected there now; of another drive that was there once nothing
     * is known by that.
     *
     * @param string      $path at which it was looked for, relative to the root
     * @param string|null $as   the digest that it was compared with; null: whatever it was verified with
     */
    public function foundAt(
        int $file,
        int $shelf,
        string $root,
        string $path,
        CopyStanding $standing,
        ?string $as = null,
    ): void {
        $here = $this->places->at($shelf, $root);
        foreach ($this->rows->all("SELECT c.place_id FROM filed_copy c JOIN place p ON p.id = c.place_id
            WHERE c.file_id = :file AND p.root = :root AND (p.id = :here OR p.drive = ''
                OR CAST(:here AS int) IS NULL)", [
            'file' => $file, 'root' => $root, 'here' => $here,
        ]) as $row) {
            $this->found($file, $row->int('place_id'), $path, $standing, $as);
        }
    }

    /**
     * @param string      $path at which it was looked for: a file that is on its way elsewhere, or was moved since, was
     *                          not found to be missing there
     * @param string|null $as   the digest that it was compared with: a copy that was verified with another one since,
     *                          as when its metadata was written meanwhile, was not found to be anything; null: whatever
     *                          it was verified with
     */
    private function found(int $file, int $place, string $path, CopyStanding $standing, ?string $as): void
    {
        $this->database->executeStatement(
            'UPDATE filed_copy SET state = :state WHERE file_id = :file AND place_id = :place
                AND (CAST(:as AS text) IS NULL OR digest = :as)
                AND EXISTS (SELECT FROM filed_file f WHERE f.id = :file AND f.path = :path AND f.heading IS NULL)',
            [
                'path' => $path,
                'as' => $as,
                'state' => CopyStanding::Missing === $standing ? 'missing' : 'changed',
                'file' => $file,
                'place' => $place,
            ],
        );
    }

    private static function read(Row $row, CopyPlace $place): KeptCopy
    {
        $made = $row->textOrNull('metadata_digest');

        return new KeptCopy(
            $row->int('file_id'),
            $row->int('shelf_id'),
            $row->text('path'),
            $place,
            new Content(Digest::fromHex($row->text('digest')), $row->int('bytes')),
            Digest::fromHex($row->text('verified')),
            CopyStanding::from($row->text('state')),
            $row->text('stamp'),
            $row->text('fingerprint'),
            null === $made ? null : new Content(Digest::fromHex($made), $row->int('metadata_bytes')),
        );
    }
}
