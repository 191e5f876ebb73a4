<?php

declare(strict_types=1);

namespace Velvet\Server\Metadata;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\FiledWriting;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Ledger\FiledPlaces;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Filed files and sidecars that another program changed: noticed by size and time, then by their digests, and offered.
 * Until it is said whose is to stay, nothing of ours is written into them.
 */
final readonly class OutsideChanges
{
    /** Seconds; FAT keeps times to two of them. */
    private const TIMES_DIFFER = 2;

    public function __construct(
        private Connection $database,
        private Rows $rows,
        private Locks $locks,
        private FrameSays $says,
        private Keywords $keywords,
        private Following $following,
        private FiledWriting $writing,
        private Ledger $ledger,
        private Happenings $happenings,
        private ClockInterface $clock,
        private FiledCopies $copies,
        private DriveTable $drives,
    ) {
    }

    /** Looks at every file of a shoot, and takes in what files say that were not asked yet. */
    public function look(int $shoot): void
    {
        foreach ($this->rows->all('SELECT f.id FROM filed_frame f WHERE f.shoot_id = :shoot AND EXISTS (SELECT FROM filed_file p WHERE p.frame_id = f.id AND p.holds_metadata AND NOT p.own_taken) ORDER BY f.id', ['shoot' => $shoot]) as $frame) {
            $this->says->takeOwn($frame->int('id'));
        }
        foreach ($this->rows->all(Holder::FILE.' JOIN filed_frame r ON r.id = f.frame_id WHERE r.shoot_id = :shoot AND f.holds_metadata ORDER BY f.id', ['shoot' => $shoot]) as $file) {
            $this->lookAt($file);
        }
        $this->happenings->tell('shoot', ['id' => $shoot]);
    }

    /** @return bool whether the file was changed outside */
    public function lookAtFile(int $id): bool
    {
        return $this->lookAt($this->rows->one(Holder::FILE.' WHERE f.id = :id', ['id' => $id]));
    }

    /**
     * What changed outside in a shoot.
     *
     * @return list<array{file: int, name: string, path: string, place: string, picture_changed: bool, differences: list<array{field: string,
     *     ours: string, theirs: string}>}>
     */
    public function in(int $shoot): array
    {
        return array_map(function (Row $row): array {
            $outside = $row->json('outside');
            \assert(\is_string($outside['path']) && \is_string($outside['root']));

            return [
                'file' => $row->int('id'), 'name' => basename($outside['path']),
                'path' => $outside['root'].'/'.$outside['path'],
                'place' => $outside['root'] === $row->text('root') ? 'shelf' : 'twin',
                'picture_changed' => true === ($outside['picture_changed'] ?? null),
                'differences' => $this->differences($row, $outside),
            ];
        }, $this->rows->all(
            Holder::FILE.' JOIN filed_frame r ON r.id = f.frame_id WHERE r.shoot_id = :shoot AND f.outside IS NOT NULL ORDER BY r.captured_at, f.id',
            ['shoot' => $shoot],
        ));
    }

    /**
     * The other program's file stays and goes to the other drive, too; what it says is said by the frame from now on.
     *
     * @throws OutsideRefused
     */
    public function takeTheirs(int $id): void
    {
        [$row, $holder, $outside] = $this->changed($id);
        $said = Metadata::fromArray(\is_array($outside['says']) ? $outside['says'] : []);
        $this->adopt($row, $holder, $outside, 'outside_taken');
        $frame = $row->int('frame_id');
        $texts = [];
        foreach ($this->differences($row, $outside) as $difference) {
            if (null !== Field::tryFrom($difference['field'])) {
                $texts[$difference['field']] = $difference['theirs'];
            }
        }
        $ids = $this->keywords->idsSaidBy($said);
        $this->database->transactional(function () use ($frame, $texts, $said, $ids, $id): void {
            $this->database->executeStatement(
                'UPDATE filed_frame
                    SET says = says || CAST(:texts AS jsonb), rating = coalesce(:rating, CASE WHEN rating IS NULL THEN NULL ELSE 0 END)
                    WHERE id = :id',
                [
                    'texts' => json_encode((object) $texts, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
                    'rating' => $said->rating,
                    'id' => $frame,
                ],
            );
            // keywords that stay in the catalogue are in no file and stay with the frame
            $this->database->executeStatement(
                'DELETE FROM frame_keyword f USING keyword k WHERE f.frame_id = :frame AND k.id = f.keyword_id
                    AND NOT k.private AND NOT k.heading AND NOT (f.keyword_id IN (SELECT value::int
                    FROM jsonb_array_elements_text(CAST(:ids AS jsonb))))',
                ['frame' => $frame, 'ids' => json_encode($ids, \JSON_THROW_ON_ERROR)],
            );
            $this->says->give(
                array_map(static fn (int $keyword): array => ['frame' => $frame, 'keyword' => $keyword], $ids),
            );
            // the frame's other files follow
            $this->following->ask('SELECT CAST(:frame AS bigint)', ['frame' => $frame]);
            $this->database->executeStatement(
                "UPDATE filed_file SET metadata_state = 'written' WHERE id = :id",
                ['id' => $id],
            );
        });
        $this->following->begin();
    }

    /**
     * What the frame says is written into the file again; what else the other program wrote stays. A file whose picture
     * changed is put back from the other drive, where that has the picture as it was filed.
     *
     * @throws OutsideRefused
     */
    public function keepOurs(int $id): void
    {
        [$row, $holder, $outside] = $this->changed($id);
        if (true !== ($outside['picture_changed'] ?? null)) {
            // asked for first: where this ends in the middle, nothing is taken for settled
            $this->following->ask('SELECT frame_id FROM filed_file WHERE id = :id', ['id' => $id]);
            $this->adopt($row, $holder, $outside, 'outside_overruled');
            $this->following->begin();

            return;
        }
        \assert(
            \is_string($outside['path'])
                && \is_string($outside['root'])
                && \is_string($outside['digest'])
                && null !== $holder->digest,
        );
        $theirs = $outside['root'].'/'.$outside['path'];
        foreach ($holder->paths() as $path) {
            if ($path !== $theirs && MetadataWriting::holds($path, $holder->digest)) {
                try {
                    $this->writing->handOver(
                        $path,
                        $theirs,
                        Digest::fromHex($outside['digest']),
                        $holder->digest,
                        $holder->modifiedAt ?? $this->clock->now()->getTimestamp(),
                        'put-back-'.$id,
                        $holder->grounds()[$theirs] ?? null,
                    );
                } catch (TransferFailure $e) {
                    throw OutsideRefused::failed($theirs, $e->getMessage());
                }
                $this->database->transactional(function () use ($row, $holder, $id): void {
                    $this->database->executeStatement(
                        'UPDATE filed_file SET outside = NULL WHERE id = :id',
                        ['id' => $id],
                    );
                    if (null !== $holder->digest) {
                        $this->copies->verified(
                            $id,
                            $row->int('shelf_id'),
                            $holder->roots,
                            $holder->path,
                            $holder->digest,
                            $holder->bytes ?? 0,
                        );
                    }
                    $this->ledger->write(
                        'outside_put_back',
                        [
                            'file' => $id,
                            'intake' => $row->int('intake_id'),
                            'from' => $row->text('original_path'),
                            'to' => $holder->path,
                            'digest' => $holder->digest?->labelled(),
                        ],
                    );
                });

                return;
            }
        }
        throw OutsideRefused::noOtherCopy($theirs);
    }

    /**
     * Where a changed file says something else than its frame.
     *
     * @param array<mixed> $outside
     *
     * @return list<array{field: string, ours: string, theirs: string}>
     */
    private function differences(Row $file, array $outside): array
    {
        $ours = $this->says->of($file->int('frame_id'), $file);
        $own = Metadata::fromArray(
            $this->rows->one(
                "SELECT coalesce(own, '{}') AS own FROM filed_frame WHERE id = :id",
                ['id' => $file->int('frame_id')],
            )->json('own'),
        );
        $ours = new Metadata($ours->texts + $own->texts, $ours->keywords, $ours->paths, $ours->rating ?? $own->rating);

        return array_values(
            array_filter(
                $ours->differences(Metadata::fromArray(\is_array($outside['says']) ? $outside['says'] : [])),
                static fn (array $difference): bool => false !== Field::tryFrom($difference['field'])?->isTyped(),
            ),
        );
    }

    /** @return array{Row, Holder, array<mixed>} */
    private function changed(int $id): array
    {
        $row = $this->rows->first(
            Holder::FILE.' WHERE f.id = :id AND f.outside IS NOT NULL',
            ['id' => $id],
        ) ?? throw OutsideRefused::notChanged();
        if (!$this->lookAt($row)) {
            throw OutsideRefused::notChanged(); // it was put back meanwhile
        }
        $row = $this->rows->one(Holder::FILE.' WHERE f.id = :id', ['id' => $id]);
        $outside = $row->json('outside');

        return [$row, $this->holder($row, $outside), $outside];
    }

    /**
     * The ledger has the changed content from now on, and the other drive gets it.
     *
     * @param array<mixed> $outside
     */
    private function adopt(Row $row, Holder $holder, array $outside, string $event): void
    {
        \assert(
            \is_string($outside['path'])
                && \is_string($outside['root'])
                && \is_string($outside['digest'])
                && \is_int($outside['bytes'])
                && \is_int($outside['modified_at']),
        );
        $theirs = $outside['root'].'/'.$outside['path'];
        $new = Digest::fromHex($outside['digest']);
        foreach ($holder->paths() as $path) {
            try {
                if ($path !== $theirs && !MetadataWriting::holds($path, $new)) {
                    $this->writing->handOver(
                        $theirs,
                        $path,
                        $holder->digest,
                        $new,
                        $outside['modified_at'],
                        'outside-'.$row->int('id'),
                        $holder->grounds()[$path] ?? null,
                    );
                }
            } catch (TransferFailure $e) {
                throw OutsideRefused::failed($path, $e->getMessage());
            }
        }
        $this->database->transactional(function () use ($row, $holder, $outside, $new, $event): void {
            $columns = $holder->isSidecar
                ? 'sidecar_path = :path, sidecar_digest = :digest, sidecar_bytes = :bytes, sidecar_modified_at = :modified'
                : 'digest_now = :digest, second_now = NULL, bytes_now = :bytes, modified_at = :modified';
            $values = [
                'digest' => $new->hex,
                'bytes' => $outside['bytes'],
                'modified' => $outside['modified_at'],
                'id' => $row->int('id'),
            ] + ($holder->isSidecar ? ['path' => $outside['path']] : []);
            $this->database->executeStatement(
                "UPDATE filed_file
                    SET $columns, outside = NULL, metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL
                    WHERE id = :id",
                $values,
            );
            if (!$holder->isSidecar) {
                // a file with another picture is not what came from the card: it clears none
                $this->database->executeStatement(
                    'UPDATE filed_file SET picture_replaced = :replaced WHERE id = :id',
                    [
                        'replaced' => true === ($outside['picture_changed'] ?? null) ? 'true' : 'false',
                        'id' => $row->int('id'),
                    ],
                );
                $this->copies->verified(
                    $row->int('id'),
                    $row->int('shelf_id'),
                    $holder->roots,
                    $holder->path,
                    $new,
                    $outside['bytes'],
                );
            }
            $this->ledger->write(
                $event,
                [
                    'file' => $row->int('id'),
                    'places' => $holder->roots,
                    'intake' => $row->int('intake_id'),
                    'from' => $row->text('original_path'),
                    'to' => $outside['path'],
                    'before' => $holder->digest?->labelled(),
                    'digest' => $new->labelled(),
                ],
            );
        });
    }

    private function lookAt(Row $file): bool
    {
        if (
            null === $this->changedPlace($file)
            && null === $file->textOrNull('outside')
            && !$this->hasCopyBehind($file)
        ) {
            return false;
        }
        // looked at again with the file to ourselves: a worker of ours may just have written it
        $id = $file->int('id');
        if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
            return false;
        }
        try {
            $row = $this->rows->one(Holder::FILE.' WHERE f.id = :id', ['id' => $id]);
            $this->bringLevel($row);
            $found = $this->changedPlace($row);
            // taken over unasked only where nothing that is said differs and no place is away that may know better
            if (
                null !== $found
                && true !== $found['picture_changed']
                && FiledPlaces::of($row, $this->drives)->areConnected()
                && [] === $this->differences($file, $found)
            ) {
                // as where an editor keeps its own settings: there is nothing to choose
                try {
                    $this->adopt($row, $this->holder($row, $found), $found, 'outside_taken');

                    return false;
                } catch (OutsideRefused) {
                    // the other drive cannot take it now: it is offered, and said then
                }
            }
            $this->database->executeStatement(
                'UPDATE filed_file SET outside = CAST(:outside AS jsonb) WHERE id = :id',
                [
                    'outside' => null === $found ? null : json_encode(
                        $found,
                        \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
                    ),
                    'id' => $id,
                ],
            );

            return null !== $found;
        } finally {
            $this->locks->release(Lock::FiledFile, $id);
        }
    }

    /** @return array<string, mixed>|null */
    private function changedPlace(Row $file): ?array
    {
        if (null !== $file->textOrNull('metadata_digest')) {
            return null; // ours is on its way
        }
        foreach (SidecarName::cases() as $naming) {
            $holder = Holder::of($file, $naming, $this->drives);
            $found = $this->changedCopy($holder, $file);
            if (null !== $found || !$holder->isSidecar || null !== $holder->digest) {
                return $found; // there is just one place to look at where the holder is known
            }
        }

        return null;
    }

    /** @return array<string, mixed>|null */
    private function changedCopy(Holder $holder, Row $file): ?array
    {
        foreach ($holder->roots as $root) {
            $path = $root.'/'.$holder->path;
            clearstatcache(true, $path);
            if (!is_file($path)) {
                continue; // a check of the drives finds what is missing
            }
            [$bytes, $modifiedAt] = [(int) @filesize($path), (int) @filemtime($path)];
            if (
                $bytes === $holder->bytes
                && null !== $holder->modifiedAt
                && abs($modifiedAt - $holder->modifiedAt) <= self::TIMES_DIFFER
            ) {
                continue;
            }
            try {
                $digest = Digest::ofFile($path);
                if (
                    (null !== $holder->digest && $digest->equals($holder->digest))
                    || $this->isBehind($holder, $file, $root, $digest)
                ) {
                    continue;
                }
                $said = $holder->kind->read(FileBytes::open($path));
                $pictureChanged = $this->pictureChanged($holder, $path, $file->textOrNull('picture_digest'));
            } catch (MetadataRefused|FileUnreadable) {
                continue; // it is damaged rather than edited, which a check of the drives says
            }

            return [
                'root' => $root, 'path' => $holder->path, 'digest' => $digest->hex, 'bytes' => $bytes,
                'modified_at' => $modifiedAt,
                'says' => [
                    'texts' => (object) $said->texts,
                    'keywords' => $said->keywords,
                    'paths' => $said->paths,
                    'rating' => $said->rating,
                ],
                'picture_changed' => $pictureChanged,
            ];
        }

        return null;
    }

    /**
     * Whether a copy still has what was verified there before the others got another content while its drive was away.
     */
    private function isBehind(Holder $holder, Row $file, string $root, Digest $digest): bool
    {
        foreach ($holder->isSidecar ? [] : $this->copies->of([$file->int('id')]) as $copy) {
            if (
                $copy->text('root') === $root
                && $copy->text('verified') === $digest->hex
                && $copy->text('digest') !== $digest->hex
            ) {
                return true;
            }
        }

        return false;
    }

    private function hasCopyBehind(Row $file): bool
    {
        $connected = FiledPlaces::of($file, $this->drives)->connected;

        return [] !== array_filter(
            $this->copies->of([$file->int('id')]),
            static fn (Row $copy): bool => $copy->text('verified') !== $copy->text('digest') && \in_array($copy->text('root'), $connected, true),
        );
    }

    /** Gives copies that stayed behind while their drive was away what the others have. */
    private function bringLevel(Row $file): void
    {
        $holder = Holder::of($file, SidecarName::Stem, $this->drives);
        if ($holder->isSidecar || null === $holder->digest || null === $holder->bytes) {
            return;
        }
        $from = array_values(
            array_filter(
                $holder->paths(),
                static fn (string $path): bool => MetadataWriting::holds($path, $holder->digest),
            ),
        )[0] ?? null;
        foreach ($holder->roots as $root) {
            if (null === $from) {
                break;
            }
            $path = $root.'/'.$holder->path;
            try {
                $digest = is_file($path) ? Digest::ofFile($path) : null;
                if (null !== $digest && $this->isBehind($holder, $file, $root, $digest)) {
                    $this->writing->handOver(
                        $from,
                        $path,
                        $digest,
                        $holder->digest,
                        $holder->modifiedAt ?? $this->clock->now()->getTimestamp(),
                        'level-'.$file->int('id'),
                        $holder->grounds()[$path] ?? null,
                    );
                    $this->copies->verified(
                        $file->int('id'),
                        $file->int('shelf_id'),
                        [$root],
                        $holder->path,
                        $holder->digest,
                        $holder->bytes,
                    );
                }
            } catch (TransferFailure|FileUnreadable) {
                continue; // it stays behind, which a check of the drives says
            }
        }
    }

    /**
     * Whether the picture in a changed file is another one than was filed. Where nobody can tell, it is: unknown is
     * never unchanged.
     */
    private function pictureChanged(Holder $holder, string $theirs, ?string $filed): bool
    {
        if ($holder->isSidecar || null === $holder->digest) {
            return false;
        }
        if (null !== $filed) {
            return $filed !== MetadataCopy::pictureDigest($holder->kind, FileBytes::open($theirs));
        }
        foreach ($holder->paths() as $path) {
            if ($path !== $theirs && MetadataWriting::holds($path, $holder->digest)) {
                return MetadataCopy::pictureDigest($holder->kind, FileBytes::open($path)) !== MetadataCopy::pictureDigest(
                    $holder->kind,
                    FileBytes::open($theirs),
                );
            }
        }

        return true;
    }

    /** @param array<mixed> $outside */
    private function holder(Row $row, array $outside): Holder
    {
        $stem = Holder::of($row, SidecarName::Stem, $this->drives);

        return $stem->path === $outside['path'] ? $stem : Holder::of($row, SidecarName::Whole, $this->drives);
    }
}
