<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Copy\CopiedFile;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\ShootFolders;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\Received;
use Velvet\Core\Filed\Repair;
use Velvet\Core\Plan\PlannedWords;
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
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Metadata\FrameMetadata;
use Velvet\Server\Work\Metadata\WordsOnTheWay;
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
        private FrameMetadata $says,
        private Keywords $keywords,
    ) {
    }

    /**
     * Every destination has verified the files, which are new. Nothing is done with those that another worker took over
     * meanwhile: that one files them.
     *
     * @param non-empty-list<CopiedClaim> $files
     * @param Drives                      $drives that were asked before they were written
     *
     * @throws DriveGone when one that is not known went before they could be set down
     */
    public function filed(Intake $intake, array $files, Drives $drives, WordsOnTheWay $words): void
    {
        $this->transfers->changeAll(
            array_map(static fn (CopiedClaim $one): ClaimedFile => $one->claimed, $files),
            fn (array $transfers) => $this->setDown(
                $intake,
                $transfers,
                array_intersect_key($files, $transfers),
                $drives,
                $words,
            ),
        );
    }

    /**
     * @param non-empty-array<int, Transfer> $transfers
     * @param array<int, CopiedClaim>        $copied
     *
     * @throws DriveGone
     */
    private function setDown(
        Intake $intake,
        array $transfers,
        array $copied,
        Drives $drives,
        WordsOnTheWay $words,
    ): void {
        $roots = $intake->shelf()->roots();
        $frames = $this->frames($intake, array_values($transfers), $words);
        $files = [];
        foreach ($transfers as $i => $transfer) {
            $files[$i] = $this->newFile($intake, $transfer, $copied[$i]->copied, $frames[$transfer->frame()]);
        }
        $this->mustSayIt($transfers, $files, $words);
        $this->files->addAll(array_values($files));
        $copies = $onCard = $lines = [];
        foreach ($files as $i => $file) {
            $written = $copied[$i]->copied->written;
            $content = $file->content();
            $copies[] = [
                'file' => $file->id(), 'digest' => $content->digest, 'bytes' => $content->bytes,
                'fingerprint' => $written->fingerprint->hex ?? $file->fingerprint(), 'stamps' => $copied[$i]->stamps,
            ];
            $onCard[] = ['transfer' => $transfers[$i], 'filed' => $file->id(), 'stamp' => $copied[$i]->stamp];
            array_push($lines, ...$this->lines($copied[$i], $file, $roots));
            $transfers[$i]->filed($copied[$i]->copied->received, $file->id());
            if (null !== $written && [] !== $words->ownKeywords($transfers[$i])) {
                $this->says->askOthers($file);
            }
        }
        $this->copies->add($intake->shelf()->id(), $drives, $roots, $copies);
        $this->contents->filedAll($onCard);
        $this->ledger->writeAll($lines);
    }

    /**
     * @param non-empty-list<string> $roots
     *
     * @return non-empty-list<array{string, array<string, mixed>}>
     */
    private function lines(CopiedClaim $copied, FiledFile $file, array $roots): array
    {
        $received = $copied->copied->received;
        $lines = [['file_filed', self::filedLine(
            $copied->claimed,
            $file->id(),
            array_map(static fn (string $root): string => $root.'/'.$copied->claimed->transfer()->target(), $roots),
            $received,
        )]];
        if (null !== $copied->copied->written) {
            $lines[] = ['metadata_written', [
                'file' => $file->id(), 'intake' => $file->intake(), 'from' => $file->originalPath(),
                'to' => $file->path(), 'places' => $roots,
                'received' => $received->content->labelled(), 'before' => $received->content->labelled(),
                'digest' => $copied->copied->digest()->labelled(),
            ]];
        }

        return $lines;
    }

    /**
     * @param list<string> $to absolute
     *
     * @return array<string, mixed>
     */
    private static function filedLine(ClaimedFile $claimed, int $file, array $to, Digests $digests): array
    {
        return ['file' => $file] + self::said($claimed) + [
            'to' => $to,
            'bytes' => $claimed->transfer()->bytes(),
            'digest' => $digests->content->labelled(),
        ] + (null === $digests->second ? [] : ['second' => $digests->labelled()[1]]);
    }

    /**
     * Every destination has verified the file that replaces a damaged copy.
     *
     * @param string $stamp of the card's file before it was read
     *
     * @throws DriveGone when one of them went before it could be set down
     */
    public function repaired(ClaimedFile $claimed, Digests $digests, Repair $repair, string $stamp): void
    {
        $filed = $claimed->transfer()->repairs() ?? throw new \LogicException('It repairs nothing.');
        $this->transfers->change(
            $claimed,
            function (Transfer $transfer) use ($claimed, $digests, $repair, $stamp, $filed): void {
                $this->files->change(
                    $filed,
                    fn (FiledFile $file) => $repair->done($file, $transfer->modifiedAt(), $this->clock->now()),
                );
                $transfer->filed($digests, $filed);
                $this->copies->allVerified(
                    $filed,
                    $this->files->get($filed)->shelf(),
                    $repair->roots,
                    $repair->path,
                    $digests->content,
                    $transfer->bytes(),
                );
                $this->contents->filed($transfer, $filed, $stamp);
                $to = array_map(static fn (string $root): string => $root.'/'.$repair->path, $repair->roots);
                $this->ledger->write('file_repaired', self::filedLine($claimed, $filed, $to, $digests));
            },
        );
    }

    /**
     * The file equals one that is filed; nothing was written.
     *
     * @param string $sameAs path of that one, relative to its shelf
     */
    public function same(ClaimedFile $claimed, Digests $digests, int $filed, string $sameAs, string $stamp): void
    {
        $this->transfers->change(
            $claimed,
            function (Transfer $transfer) use ($claimed, $digests, $filed, $sameAs, $stamp): void {
                $transfer->same($digests, $filed);
                $this->contents->filed($transfer, $filed, $stamp);
                $this->ledger->write(
                    'file_same',
                    ['file' => $filed] + self::said($claimed) + [
                        'same_as' => $sameAs,
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

    private function newFile(Intake $intake, Transfer $transfer, CopiedFile $copied, int $frame): FiledFile
    {
        $file = FiledFile::filed(
            new FiledAs($frame, $intake->shelf()->id(), $intake->id(), $transfer->target()),
            new Received(
                $transfer->source(),
                $transfer->kind(),
                Content::of($copied->received, $transfer->bytes()),
                $transfer->fingerprint()->hex ?? throw new \LogicException('It was never read.'),
                $transfer->modifiedAt(),
                $copied->picture,
            ),
            $transfer->words(),
            $transfer->dng(),
            $this->clock->now(),
        );
        if (null !== $copied->written) {
            $file->ownTaken();
            $file->writingBegan($file->wanted(), Content::of($copied->written->digests, $copied->written->bytes));
            $file->written($transfer->modifiedAt(), implode(' ', $copied->written->notes));
        }

        return $file;
    }

    /**
     * The filed frames of files; those that are not there yet are made, and each says what its files said.
     *
     * @param non-empty-list<Transfer> $transfers
     *
     * @return array<int, int> their ids, by the frame on the card
     */
    private function frames(Intake $intake, array $transfers, WordsOnTheWay $words): array
    {
        $onCard = array_values(array_unique(array_map(static fn (Transfer $one): int => $one->frame(), $transfers)));
        // another worker may be at the other files of a frame
        $this->locks->allUntilCommitted(Lock::FrameFiled, $onCard);
        $filed = $this->transfers->filedFrames($intake->id(), $onCard);
        $planned = $this->transfers->wordsOfFrames($intake->id(), $onCard);
        /** @var array<int, FiledFrame> $new */
        $new = $given = $shoots = [];
        foreach ($transfers as $transfer) {
            if (!isset($filed[$transfer->frame()])) {
                $shoots[$transfer->entry()] ??= $this->shoot($intake, $transfer->entry());
                $new[$transfer->frame()] ??= $this->newFrame(
                    $transfer,
                    $shoots[$transfer->entry()],
                    $planned[$transfer->frame()] ?? new PlannedWords(),
                );
            }
        }
        $this->frames->addAll(array_values($new));
        foreach ($new as $key => $frame) {
            $filed[$key] = $frame->id();
            foreach ($planned[$key]->keywords ?? [] as $keyword) {
                $given[] = ['frame' => $frame->id(), 'keyword' => $keyword];
            }
        }
        $said = [];
        foreach ($transfers as $transfer) {
            $frame = $filed[$transfer->frame()];
            foreach ($words->ownKeywords($transfer) as $keyword) {
                $given[] = ['frame' => $frame, 'keyword' => $keyword];
            }
            if (null !== $words->wrote($transfer) && !$words->said($transfer)->isEmpty()) {
                $said[$frame][] = $words->said($transfer);
            }
        }
        $this->frames->giveAll($given);
        $own = [];
        foreach ([] === $said ? [] : $this->frames->wordsToChange(array_keys($said)) as $known) {
            foreach ($said[$known->frame] as $one) {
                $known = $known->withOwn($one);
            }
            $own[$known->frame] = $known->own;
        }
        $this->frames->keepOwn($own);

        return $filed;
    }

    /**
     * What was written into the files while they came is what their frames say now; where somebody changed a keyword or
     * a frame meanwhile, it is asked for anew. Nobody changes them before all of this is kept.
     *
     * @param non-empty-array<int, Transfer>  $transfers
     * @param array<int, FiledFile> $files
     */
    private function mustSayIt(array $transfers, array $files, WordsOnTheWay $words): void
    {
        $written = array_filter($files, static fn (FiledFile $file): bool => null !== $file->changed());
        if ([] === $written) {
            return;
        }
        $said = [];
        foreach ($this->frames->wordsToChange(array_values(array_unique(
            array_map(static fn (FiledFile $file): int => $file->frame(), $written),
        ))) as $frame) {
            $said[$frame->frame] = $frame;
        }
        $tree = $this->keywords->about(
            array_values(array_unique(array_merge(...array_values(array_column($said, 'keywords'))))),
            hold: true,
        );
        foreach ($written as $i => $file) {
            $says = FrameMetadata::said($said[$file->frame()], $file->ofFile(), $tree, $words->struckToo);
            if (true !== $words->wrote($transfers[$i])?->equals($says)) {
                $file->metadataAsked();
            }
        }
    }

    /**
     * Of names that files are to get, those that the ledger has given to other files, be they there or not: they are
     * not given again.
     *
     * @param list<ClaimedFile> $claimed
     *
     * @return array<string, true> relative to the shelf
     */
    public function namesGiven(Intake $intake, array $claimed): array
    {
        return $this->files->namesGiven(
            $intake->shelf()->id(),
            array_map(static fn (ClaimedFile $one): string => $one->transfer()->target(), $claimed),
        );
    }

    private function newFrame(Transfer $transfer, Shoot $shoot, PlannedWords $words): FiledFrame
    {
        return new FiledFrame(
            $shoot,
            $transfer->capturedAt(),
            $transfer->facts(),
            $transfer->picture(),
            (string) preg_replace('/\..*$/', '', basename($transfer->target())),
            $transfer->counter(),
            $words->says,
            $transfer->isLoose(),
        );
    }

    private function shoot(Intake $intake, int $entryId): Shoot
    {
        $entry = $this->entities->find(Entry::class, $entryId) ?? throw new \LogicException('The entry is gone.');
        $this->entities->refresh($entry); // what an earlier transaction gave it may not have been kept
        if (null === $entry->shoot) {
            // two workers may be at the first files of an entry at the same time
            $this->entities->refresh($entry, LockMode::PESSIMISTIC_WRITE);
        }
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
                $this->makeFolders($intake, $folder);
            }
            $entry->shoot = $shoot;
            $this->entities->flush();
        }

        return $entry->shoot;
    }

    /** The folders that the style wants with a new shoot: in its own, and the same one on other stages' shelves. */
    private function makeFolders(Intake $intake, string $folder): void
    {
        $wanted = $this->sheets->styleOf($intake)->subfolders;
        $missing = ShootFolders::make(
            Drives::fromRecord($this->table, $intake->drives),
            $intake->shelf()->roots(),
            $folder,
            $wanted->skeleton,
        );
        foreach ([] === $wanted->stages ? [] : $this->entities->getRepository(Shelf::class)->findAll() as $shelf) {
            if (\in_array($shelf->name, $wanted->stages, true) && $shelf !== $intake->shelf()) {
                array_push(
                    $missing,
                    ...ShootFolders::make($shelf->drives($this->table), $shelf->roots(), $folder, ['']),
                );
            }
        }
        foreach ($missing as $one) {
            $this->logger->warning('Folder not made: {folder}', ['folder' => $one]);
        }
    }
}
