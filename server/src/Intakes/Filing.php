<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\ShootFolders;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Metadata\FrameSays;
use Velvet\Server\Metadata\Holder;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;
use Velvet\Server\Store\Shoot;

/**
 * Writes into the database and the ledger what became of a file. All that belongs to one file is written at once or not
 * at all.
 */
final readonly class Filing
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private Rows $rows,
        private Claims $claims,
        private Ledger $ledger,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private Sheets $sheets,
        private FrameSays $says,
        private FiledCopies $copies,
        private Locks $locks,
        private DriveTable $table,
    ) {
    }

    /**
     * Every destination has verified the file. Nothing is done where another worker took it over meanwhile: that one
     * files it.
     *
     * @param non-empty-list<string> $roots of the places, absolute
     * @param string                 $stamp of the card's file before it was read, as {@see FileStamp::text()} has it
     *
     * @throws DriveGone when one of them went before it could be set down
     */
    public function filed(Intake $intake, Row $transfer, Digests $digests, array $roots, string $stamp): void
    {
        $picture = self::pictureDigest($roots[0].'/'.$transfer->text('target'), $transfer);
        $this->database->transactional(function () use ($intake, $transfer, $digests, $roots, $picture, $stamp): void {
            if (!$this->claims->has($transfer, FileStep::Verifying)) {
                return;
            }
            $repairs = $transfer->intOrNull('repairs_file_id');
            $filed = null === $repairs
                ? $this->newFile($intake, $transfer, $digests, $picture)
                : $this->repaired($transfer, $repairs, \count($roots));
            $this->claims->step(
                $transfer,
                FileStep::Verifying,
                FileStep::Filed,
                ['digest' => $digests->content->hex, 'second_digest' => $digests->second, 'filed_file_id' => $filed],
            );
            $shelf = $this->rows->one(
                'SELECT shelf_id FROM filed_file WHERE id = :id',
                ['id' => $filed],
            )->int('shelf_id');
            $this->copies->allVerified(
                $filed,
                $shelf,
                $roots,
                $transfer->text('target'),
                $digests->content,
                $transfer->int('bytes'),
            );
            $this->cardHas($transfer, $filed, $stamp);
            $places = array_map(static fn (string $root): string => $root.'/'.$transfer->text('target'), $roots);
            $this->ledger->write(
                null === $repairs ? 'file_filed' : 'file_repaired',
                [
                    'file' => $filed,
                    'intake' => $intake->id(),
                    'card' => $transfer->text('label'),
                    'card_id' => $transfer->text('identity'),
                    'from' => $transfer->text('source'),
                    'to' => $places,
                    'bytes' => $transfer->int('bytes'),
                    'digest' => $digests->content->labelled(),
                ] + (null === $digests->second ? [] : ['second' => $digests->labelled()[1]]),
            );
        });
    }

    /** The file equals one that this intake filed; nothing was written. */
    public function same(Intake $intake, Row $transfer, Digests $digests, Row $first, string $stamp): void
    {
        $this->database->transactional(function () use ($intake, $transfer, $digests, $first, $stamp): void {
            if (!$this->claims->step($transfer, FileStep::Copying, FileStep::Same, ['digest' => $digests->content->hex, 'second_digest' => $digests->second, 'filed_file_id' => $first->int('filed_file_id')])) {
                return;
            }
            $this->cardHas($transfer, $first->int('filed_file_id'), $stamp);
            $this->ledger->write(
                'file_same',
                [
                    'file' => $first->int('filed_file_id'),
                    'intake' => $intake->id(),
                    'card' => $transfer->text('label'),
                    'card_id' => $transfer->text('identity'),
                    'from' => $transfer->text('source'),
                    'same_as' => $first->text('target'),
                    'digest' => $digests->content->labelled(),
                ],
            );
        });
    }

    /** The file is not filed. */
    public function failed(Intake $intake, Row $transfer, FileStep $at, string $why): void
    {
        $this->database->transactional(function () use ($intake, $transfer, $at, $why): void {
            if ($this->claims->step($transfer, $at, FileStep::Failed, ['failure' => $why])) {
                if ($transfer->bool('equals')) {
                    $this->database->executeStatement(
                        "UPDATE skipped SET state = 'failed', problem = :why WHERE intake_id = :intake
                            AND entry_id = :entry AND frame_position = :position",
                        [
                            'why' => $why,
                            'intake' => $intake->id(),
                            'entry' => $transfer->int('entry_id'),
                            'position' => $transfer->int('frame_position'),
                        ],
                    );
                }
                $this->ledger->write(
                    'file_failed',
                    [
                        'intake' => $intake->id(),
                        'card' => $transfer->text('label'),
                        'card_id' => $transfer->text('identity'),
                        'from' => $transfer->text('source'),
                        'why' => $why,
                    ],
                );
            }
        });
        $this->logger->warning('File not filed: {why}', ['why' => $why]);
    }

    /** The file that this one should equal could not be filed: this one is copied in its place. */
    public function takesItsPlace(Row $transfer): void
    {
        $this->database->transactional(function () use ($transfer): void {
            if ($this->claims->step($transfer, FileStep::Copying, FileStep::Planned)) {
                $frame = ['intake' => $transfer->int('intake_id'), 'frame' => $transfer->int('frame_key')];
                // all files of the frame go together: those of the other that were filed already are found equal on the drives
                $this->database->executeStatement(
                    "UPDATE transfer SET equals = false WHERE intake_id = :intake AND frame_key = :frame
                        AND state = 'planned' AND NOT EXISTS (SELECT FROM transfer o
                        WHERE o.intake_id = transfer.intake_id AND o.target = transfer.target AND NOT o.equals
                        AND o.state <> 'failed')",
                    $frame,
                );
                $this->database->executeStatement(
                    'DELETE FROM skipped WHERE intake_id = :intake AND entry_id = :entry
                        AND frame_position = :position',
                    [
                        'intake' => $frame['intake'],
                        'entry' => $transfer->int('entry_id'),
                        'position' => $transfer->int('frame_position'),
                    ],
                );
            }
        });
    }

    private function newFile(Intake $intake, Row $transfer, Digests $digests, ?string $picture): int
    {
        $shelf = $intake->shelf();
        $shoot = $this->shoot($intake, $transfer->int('entry_id'));
        $frame = $this->rows->first(
            'SELECT f.frame_id FROM transfer t JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake
                AND t.frame_key = :frame LIMIT 1',
            ['intake' => $intake->id(), 'frame' => $transfer->int('frame_key')],
        );
        $frameId = $frame?->int('frame_id') ?? $this->newFrame($intake, $transfer, $shoot);

        return $this->rows->one(<<<'SQL'
            INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest, second_digest, original_path, filed_at, modified_at, holds_metadata, of_file, clock, metadata_state, dng_state, dng_choice, picture_digest)
            VALUES (:frame, :shelf, :intake, :path, :kind, :bytes, :fingerprint, :digest, :second, :original, :at, :modified, :holds, CAST(:of_file AS jsonb), :clock, :state, CASE WHEN CAST(:dng AS text) IS NULL THEN 'none' ELSE 'waiting' END, :dng, :picture)
            RETURNING id
            SQL, [
            'frame' => $frameId, 'shelf' => $shelf->id(), 'intake' => $intake->id(),
            'path' => $transfer->text('target'), 'kind' => $transfer->text('kind'), 'bytes' => $transfer->int('bytes'),
            'fingerprint' => $transfer->text('fingerprint'), 'digest' => $digests->content->hex,
            'second' => null === $digests->second ? null : $digests->labelled()[1],
            'original' => $transfer->text('source'), 'picture' => $picture, 'at' => $this->clock->now()->format('c'),
            'modified' => $transfer->int('modified_at'),
            'holds' => null === $transfer->textOrNull('metadata') ? 'false' : 'true',
            'of_file' => self::planned($transfer, 'of_file'), 'clock' => self::planned($transfer, 'clock'),
            'state' => 'true' === self::planned($transfer, 'waits') ? 'waiting' : 'none',
            'dng' => $transfer->textOrNull('dng'),
        ])->int('id');
    }

    /** Whether the ledger has given a name to another file, be it there or not: it is not given again. */
    public function isNameGiven(Intake $intake, Row $transfer): bool
    {
        return null === $transfer->intOrNull('repairs_file_id')
            && null !== $this->rows->first(
                'SELECT id FROM filed_file WHERE shelf_id = :shelf AND path = :path',
                ['shelf' => $intake->shelf()->id(), 'path' => $transfer->text('target')],
            );
    }

    /**
     * Of the picture that was received, so that it can be told later whether another program changed it; null where
     * there is none to compare.
     */
    private static function pictureDigest(string $path, Row $transfer): ?string
    {
        $kind = null === $transfer->intOrNull('repairs_file_id')
            ? Holder::kindOf([$path], FileKind::from($transfer->text('kind')))
            : null;
        try {
            return null === $kind || $kind instanceof SidecarFile
                ? null
                : MetadataCopy::pictureDigest($kind, FileBytes::open($path));
        } catch (MetadataRefused|FileUnreadable) {
            return null;
        }
    }

    private function newFrame(Intake $intake, Row $transfer, Shoot $shoot): int
    {
        // what a frame says is planned with each of its files that can hold it
        $plan = $this->rows->first(
            'SELECT metadata FROM transfer WHERE intake_id = :intake AND frame_key = :frame AND metadata IS NOT NULL
                ORDER BY id LIMIT 1',
            ['intake' => $intake->id(), 'frame' => $transfer->int('frame_key')],
        );
        $id = $this->rows->one('INSERT INTO filed_frame (shoot_id, captured_at, facts, picture, stem, counter, says) VALUES (:shoot, :captured, :facts, :picture, :stem, :counter, CAST(:says AS jsonb)) RETURNING id', [
            'counter' => $transfer->intOrNull('counter'),
            'shoot' => $shoot->id(), 'captured' => $transfer->textOrNull('captured_at'),
            'facts' => $transfer->text('facts'), 'picture' => $transfer->textOrNull('picture'),
            'stem' => preg_replace('/\..*$/', '', basename($transfer->text('target'))),
            'says' => self::planned($plan, 'says'),
        ])->int('id');
        $keywords = json_decode(self::planned($plan, 'keywords'), true);
        $this->says->give(
            array_map(
                static fn (int $keyword): array => ['frame' => $id, 'keyword' => $keyword],
                array_values(array_filter(\is_array($keywords) ? $keywords : [], is_int(...))),
            ),
        );

        return $id;
    }

    /**
     * Where another copy still holds the metadata that was written into it, the repaired one gets that from it; else
     * all copies are as they were received.
     */
    private function repaired(Row $transfer, int $fileId, int $places): int
    {
        $keeps = $this->rows->one(
            'SELECT f.digest_now IS NOT NULL AND :places < CASE WHEN s.twin_root IS NULL THEN 1 ELSE 2 END AS it
                FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE f.id = :id',
            ['places' => $places, 'id' => $fileId],
        )->bool('it');
        if ($keeps) {
            $this->database->executeStatement(
                "UPDATE filed_file
                    SET metadata_state = 'waiting', metadata_begun = metadata_wanted, metadata_digest = digest_now, metadata_second = second_now, metadata_bytes = bytes_now, digest_now = NULL, second_now = NULL, bytes_now = NULL
                    WHERE id = :file",
                ['file' => $fileId],
            );
        } else {
            // what its frame says is written into it anew
            $this->database->executeStatement(
                "UPDATE filed_file
                    SET metadata_state = CASE WHEN digest_now IS NULL THEN metadata_state ELSE 'waiting' END, digest_now = NULL, second_now = NULL, bytes_now = NULL, metadata_digest = NULL, modified_at = :modified
                    WHERE id = :id",
                ['id' => $fileId, 'modified' => $transfer->int('modified_at')],
            );
        }
        $this->database->executeStatement(
            'UPDATE filed_file SET filed_at = :at WHERE id = :id',
            ['id' => $fileId, 'at' => $this->clock->now()->format('c')],
        );

        return $fileId;
    }

    /**
     * From now on the file on the card counts as filed, and its frame when all its files are; but not if it is another
     * one than was read.
     */
    private function cardHas(Row $transfer, int $filed, string $stamp): void
    {
        $this->database->executeStatement(
            'UPDATE card_file SET filed_file_id = :filed, repairs_file_id = NULL WHERE card_id = :card AND path = :path
                AND stamp = :stamp',
            [
                'filed' => $filed,
                'card' => $transfer->int('card_id'),
                'path' => $transfer->text('source'),
                'stamp' => $stamp,
            ],
        );
        $this->database->executeStatement(
            "UPDATE card_frame f SET state = 'filed' WHERE f.id = :frame AND f.state = 'new' AND NOT EXISTS (SELECT
                FROM card_file c WHERE c.frame_id = f.id AND c.filed_file_id IS NULL)",
            ['frame' => $transfer->int('frame_key')],
        );
    }

    /** A part of what is planned to be said, as JSON. */
    private static function planned(?Row $transfer, string $member): string
    {
        $value = null === $transfer?->textOrNull('metadata') ? null : $transfer->json('metadata')[$member] ?? null;

        return match (true) {
            null === $value,
            [] === $value => [
                'says' => '{}',
                'of_file' => '{}',
                'keywords' => '[]',
                'clock' => '0',
                'waits' => 'false',
            ][$member] ?? 'null',
            default => json_encode($value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
        };
    }

    private function shoot(Intake $intake, int $entryId): Shoot
    {
        // two workers may be at the first file of an entry at the same time
        $this->database->executeStatement('SELECT FROM entry WHERE id = ? FOR UPDATE', [$entryId]);
        $entry = $this->entities->find(Entry::class, $entryId) ?? throw new \LogicException('The entry is gone.');
        $this->entities->refresh($entry);
        if (null === $entry->shoot) {
            $folder = $entry->folder ?? throw new \LogicException('The entry has no folder.');
            $this->locks->nameUntilCommitted(Lock::ShootFolder, $intake->shelf()->id().' '.$folder);
            $shoot = $this->entities->getRepository(Shoot::class)->findOneBy(
                ['shelf' => $intake->shelf(), 'folder' => $folder],
            );
            if (null === $shoot) {
                $shoot = new Shoot(
                    $intake->shelf(),
                    $folder,
                    '' === trim($entry->name) ? basename($folder) : trim($entry->name),
                    $entry->day,
                    $this->clock->now(),
                );
                $this->entities->persist($shoot);
                foreach (ShootFolders::make(Drives::fromRecord($this->table, $intake->drives), $intake->shelf()->roots(), $folder, $this->sheets->styleOf($intake)->skeleton) as $missing) {
                    $this->logger->warning('Folder not made: {folder}', ['folder' => $missing]);
                }
            }
            $entry->shoot = $shoot;
            $this->entities->flush();
        }

        return $entry->shoot;
    }
}
