<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\ShootFolders;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Filed\Received;
use Velvet\Core\Filed\Repair;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\ClaimedFile;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrame;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Store\SkippedFrames;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Store\Transfers;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Writes into the database and the ledger what became of a file. All that belongs to one file is written at once or not
 * at all.
 */
final readonly class Filing
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Transaction $transaction,
        private CardContents $contents,
        private Transfers $transfers,
        private SkippedFrames $skipped,
        private Ledger $ledger,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private Sheets $sheets,
        private FiledFrames $frames,
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
    public function filed(Intake $intake, ClaimedFile $claimed, Digests $digests, array $roots, string $stamp): void
    {
        $repairs = $claimed->transfer()->repairs();
        $file = fn () => $this->setDown($intake, $claimed, $digests, $roots, $stamp);
        // nobody writes into a file while it is repaired
        null === $repairs ? $file() : $this->locks->with(Lock::FiledFile, $repairs, $file);
    }

    /**
     * @param non-empty-list<string> $roots
     *
     * @throws DriveGone
     */
    private function setDown(
        Intake $intake,
        ClaimedFile $claimed,
        Digests $digests,
        array $roots,
        string $stamp,
    ): void {
        $copy = $roots[0].'/'.$claimed->transfer()->target();
        $picture = self::pictureDigest($copy, $claimed->transfer());
        $this->transfers->change(
            $claimed,
            function (Transfer $transfer) use ($intake, $claimed, $digests, $roots, $picture, $stamp): void {
                $repairs = $transfer->repairs();
                $filed = null === $repairs
                    ? $this->newFile($intake, $transfer, $digests, $picture)
                    : $this->repaired($transfer, $repairs, \count($roots));
                $transfer->filed($digests, $filed);
                $this->copies->allVerified(
                    $filed,
                    null === $repairs ? $intake->shelf()->id() : $this->files->get($filed)->shelf(),
                    $roots,
                    $transfer->target(),
                    $digests->content,
                    $transfer->bytes(),
                );
                $this->contents->filed($transfer, $filed, $stamp);
                $this->ledger->write(
                    null === $repairs ? 'file_filed' : 'file_repaired',
                    ['file' => $filed] + self::said($claimed) + [
                        'to' => array_map(static fn (string $root): string => $root.'/'.$transfer->target(), $roots),
                        'bytes' => $transfer->bytes(),
                        'digest' => $digests->content->labelled(),
                    ] + (null === $digests->second ? [] : ['second' => $digests->labelled()[1]]),
                );
            },
        );
    }

    /** The file equals one that this intake filed; nothing was written. */
    public function same(ClaimedFile $claimed, Digests $digests, Transfer $first, string $stamp): void
    {
        $filed = $first->filedFile() ?? throw new \LogicException('The other one is not filed.');
        $this->transfers->change(
            $claimed,
            function (Transfer $transfer) use ($claimed, $digests, $first, $filed, $stamp): void {
                $transfer->same($digests, $filed);
                $this->contents->filed($transfer, $filed, $stamp);
                $this->ledger->write(
                    'file_same',
                    ['file' => $filed] + self::said($claimed) + [
                        'same_as' => $first->target(),
                        'digest' => $digests->content->labelled(),
                    ],
                );
            },
        );
    }

    /** The file is not filed. */
    public function failed(ClaimedFile $claimed, string $why): void
    {
        $this->transfers->change($claimed, function (Transfer $transfer) use ($claimed, $why): void {
            $transfer->failed($why);
            if ($transfer->equals()) {
                $this->skipped->failed($transfer, $why);
            }
            $this->ledger->write('file_failed', self::said($claimed) + ['why' => $why]);
        });
        $this->logger->warning('File not filed: {why}', ['why' => $why]);
    }

    /** The file that this one should equal could not be filed: this one is copied in its place. */
    public function takesItsPlace(ClaimedFile $claimed): void
    {
        $this->transaction->of(function () use ($claimed): void {
            if ($this->transfers->change($claimed, static fn (Transfer $now) => $now->putBack())) {
                $this->transfers->copyInstead($claimed->transfer());
                $this->skipped->forget($claimed->transfer());
            }
        });
    }

    /** @return array<string, mixed> what the ledger says of each file that comes from a card */
    private static function said(ClaimedFile $claimed): array
    {
        return [
            'intake' => $claimed->transfer()->intake(),
            'card' => $claimed->card->label,
            'card_id' => $claimed->card->identity,
            'from' => $claimed->transfer()->source(),
        ];
    }

    private function newFile(Intake $intake, Transfer $transfer, Digests $digests, ?string $picture): int
    {
        $shoot = $this->shoot($intake, $transfer->entry());

        return $this->files->add(FiledFile::filed(
            new FiledAs(
                $this->transfers->filedFrame($transfer) ?? $this->newFrame($transfer, $shoot),
                $intake->shelf()->id(),
                $intake->id(),
                $transfer->target(),
            ),
            new Received(
                $transfer->source(),
                $transfer->kind(),
                Content::of($digests, $transfer->bytes()),
                $transfer->fingerprint()->hex ?? throw new \LogicException('It was never read.'),
                $transfer->modifiedAt(),
                $picture,
            ),
            $transfer->words(),
            $transfer->dng(),
            $this->clock->now(),
        ));
    }

    /** Whether the ledger has given a name to another file, be it there or not: it is not given again. */
    public function isNameGiven(Intake $intake, Transfer $transfer): bool
    {
        return null === $transfer->repairs()
            && $this->files->isNameGiven($intake->shelf()->id(), $transfer->target());
    }

    /**
     * Of the picture that was received, so that it can be told later whether another program changed it; null where
     * there is none to compare.
     */
    private static function pictureDigest(string $path, Transfer $transfer): ?string
    {
        $kind = null === $transfer->repairs()
            ? MetadataTarget::kindOf([$path], $transfer->kind())
            : null;
        try {
            return null === $kind || $kind instanceof SidecarFile
                ? null
                : MetadataCopy::pictureDigest($kind, FileBytes::open($path));
        } catch (StructureBroken|FileUnreadable) {
            return null;
        }
    }

    private function newFrame(Transfer $transfer, Shoot $shoot): int
    {
        $words = $this->transfers->wordsOfFrame($transfer);
        $frame = new FiledFrame(
            $shoot,
            $transfer->capturedAt(),
            $transfer->facts(),
            $transfer->picture(),
            (string) preg_replace('/\..*$/', '', basename($transfer->target())),
            $transfer->counter(),
            $words->says ?? [],
        );
        $id = $this->frames->add($frame);
        $this->frames->give([$id], $words->keywords ?? []);

        return $id;
    }

    /**
     * Where another copy still holds the metadata that was written into it, the repaired one gets that from it; else
     * all copies are as they were received.
     */
    private function repaired(Transfer $transfer, int $fileId, int $places): int
    {
        $this->files->change($fileId, function (FiledFile $file) use ($transfer, $places): void {
            $shelf = $this->entities->find(Shelf::class, $file->shelf()) ?? throw new \LogicException('The shelf is gone.');
            $everywhere = $places >= \count($shelf->roots());
            Repair::done($file, $everywhere, $transfer->modifiedAt(), $this->clock->now());
        });

        return $fileId;
    }

    private function shoot(Intake $intake, int $entryId): Shoot
    {
        // two workers may be at the first file of an entry at the same time
        $entry = $this->entities->find(Entry::class, $entryId) ?? throw new \LogicException('The entry is gone.');
        $this->entities->refresh($entry, LockMode::PESSIMISTIC_WRITE);
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
                $missing = ShootFolders::make(
                    Drives::fromRecord($this->table, $intake->drives),
                    $intake->shelf()->roots(),
                    $folder,
                    $this->sheets->styleOf($intake)->skeleton,
                );
                foreach ($missing as $one) {
                    $this->logger->warning('Folder not made: {folder}', ['folder' => $one]);
                }
            }
            $entry->shoot = $shoot;
            $this->entities->flush();
        }

        return $entry->shoot;
    }
}
