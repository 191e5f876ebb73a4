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
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\Received;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Metadata\FrameSays;
use Velvet\Server\Metadata\Holder;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrame;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;
use Velvet\Server\Store\Shelf;
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
        private FiledFiles $files,
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
        $repairs = $transfer->intOrNull('repairs_file_id');
        $file = fn () => $this->setDown($intake, $transfer, $digests, $roots, $stamp);
        // nobody writes into a file while it is repaired
        null === $repairs ? $file() : $this->locks->with(Lock::FiledFile, $repairs, $file);
    }

    /**
     * @param non-empty-list<string> $roots
     *
     * @throws DriveGone
     */
    private function setDown(Intake $intake, Row $transfer, Digests $digests, array $roots, string $stamp): void
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
            $this->copies->allVerified(
                $filed,
                $this->files->get($filed)->shelf(),
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
        $shoot = $this->shoot($intake, $transfer->int('entry_id'));
        $frame = $this->rows->first(
            'SELECT f.frame_id FROM transfer t JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake
                AND t.frame_key = :frame LIMIT 1',
            ['intake' => $intake->id(), 'frame' => $transfer->int('frame_key')],
        );

        return $this->files->add(FiledFile::filed(
            new FiledAs(
                $frame?->int('frame_id') ?? $this->newFrame($intake, $transfer, $shoot),
                $intake->shelf()->id(),
                $intake->id(),
                $transfer->text('target'),
            ),
            new Received(
                $transfer->text('source'),
                FileKind::from($transfer->text('kind')),
                Content::of($digests, $transfer->int('bytes')),
                $transfer->text('fingerprint'),
                $transfer->int('modified_at'),
                $picture,
            ),
            self::words($transfer),
            DngChoice::from($transfer->textOrNull('dng') ?? DngChoice::No->value),
            $this->clock->now(),
        ));
    }

    /** Whether the ledger has given a name to another file, be it there or not: it is not given again. */
    public function isNameGiven(Intake $intake, Row $transfer): bool
    {
        return null === $transfer->intOrNull('repairs_file_id')
            && $this->files->isNameGiven($intake->shelf()->id(), $transfer->text('target'));
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
        $words = null === $plan ? null : self::words($plan);
        $facts = $transfer->json('facts');
        $frame = new FiledFrame(
            $shoot,
            $transfer->textOrNull('captured_at'),
            $facts,
            $transfer->textOrNull('picture'),
            (string) preg_replace('/\..*$/', '', basename($transfer->text('target'))),
            $transfer->intOrNull('counter'),
            $words->says ?? [],
        );
        $this->entities->persist($frame);
        $this->entities->flush();
        $id = $frame->id();
        $this->entities->detach($frame);
        $this->says->give(
            array_map(
                static fn (int $keyword): array => ['frame' => $id, 'keyword' => $keyword],
                $words->keywords ?? [],
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
        $this->files->change($fileId, function (FiledFile $file) use ($transfer, $places): void {
            $shelf = $this->entities->find(Shelf::class, $file->shelf()) ?? throw new \LogicException('The shelf is gone.');
            null !== $file->changed() && $places < \count($shelf->roots())
                ? $file->repairedInPart($this->clock->now())
                : $file->repaired($transfer->int('modified_at'), $this->clock->now());
        });

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

    /** What a file is planned to say; null where it holds no metadata. */
    private static function words(Row $transfer): ?PlannedWords
    {
        return null === $transfer->textOrNull('metadata')
            ? null
            : PlannedWords::fromArray($transfer->json('metadata'));
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
