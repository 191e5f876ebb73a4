<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Bytes\Size;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\FrameOnItsWay;
use Velvet\Core\Copy\PlannedFile;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\PlannedEntry;
use Velvet\Core\Plan\PlannedFrame;
use Velvet\Core\Plan\PlannedMetadata;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Plan\Room;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Pairs;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeStates;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\SheetClocks;
use Velvet\Server\Store\SheetFrame;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\SkippedFrame;
use Velvet\Server\Store\SkippedFrames;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Store\Transfers;
use Velvet\Server\Work\Cards\CardNow;
use Velvet\Server\Work\Cards\FiledOnCard;
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/** Starts, pauses and stops intakes. Starting settles the plan: from then on every file has its name. */
final readonly class Intakes
{
    private const SETTLED_TOGETHER = 500;
    private const SAID_BESIDE = [FileKind::Raw, FileKind::Heif, FileKind::Movie, FileKind::Audio];

    public function __construct(
        private EntityManagerInterface $entities,
        private Transaction $transaction,
        private Transfers $transfers,
        private IntakeStates $states,
        private SkippedFrames $skipped,
        private Sheets $sheets,
        private SheetFrames $frames,
        private SheetClocks $clocks,
        private Ledger $ledger,
        private Happenings $happenings,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Keywords $keywords,
        private IntakeWork $work,
        private FiledOnCard $filed,
        private Locks $locks,
        private DriveTable $table,
        private CardNow $now,
        private Shelves $shelves,
    ) {
    }

    /**
     * Settles the plan and asks for the copy.
     *
     * @throws SheetRefused
     */
    public function start(Intake $intake): void
    {
        $this->mustBeRead($intake); // nobody is kept waiting until a card is read to its end
        $this->settle($intake, true);
        RunIntake::byAll($this->bus, $intake->id());
    }

    /**
     * Settles the plan: every file that will be copied becomes a row of its own.
     *
     * @param bool $mustBeNamed whether every entry that copies anything must have a name
     *
     * @throws SheetRefused
     */
    public function settle(Intake $intake, bool $mustBeNamed): void
    {
        $cards = array_values($intake->cards->map(static fn (Card $card): int => $card->id())->toArray());
        sort($cards);
        // nobody reads the cards anew meanwhile, no edit comes between, and two sheets that give names on one shelf do
        // it one after the other, as do two of one card
        $this->withCards($cards, fn () => $this->locks->with(
            Lock::Sheet,
            $intake->id(),
            function () use ($intake, $mustBeNamed): void {
                $this->entities->refresh($intake);
                $this->locks->with(
                    Lock::ShelfNames,
                    $intake->shelf?->id() ?? 0,
                    fn () => $this->settleAlone($intake, $mustBeNamed),
                );
            },
        ));
    }

    /**
     * @param list<int>        $cards
     * @param \Closure(): void $do
     */
    private function withCards(array $cards, \Closure $do): void
    {
        $first = array_shift($cards);
        null === $first ? $do() : $this->locks->with(Lock::Card, $first, fn () => $this->withCards($cards, $do));
    }

    /** @throws SheetRefused where a card is not, or not any more, as it was read */
    private function mustBeRead(Intake $intake): void
    {
        foreach ($intake->cards as $card) {
            $this->entities->refresh($card);
            $difference = $this->now->difference($card);
            if (null !== $difference) {
                throw SheetRefused::cardChanged($card->label, $difference);
            }
        }
    }

    /** @throws SheetRefused */
    private function settleAlone(Intake $intake, bool $mustBeNamed): void
    {
        $this->sheets->mustBeOpen($intake);
        foreach ($intake->cards as $card) {
            $other = $this->work->other($card, $intake->id());
            if (null !== $other) {
                throw SheetRefused::underWay($card->label, $other);
            }
        }
        $this->mustBeRead($intake);
        foreach ($intake->cards as $card) {
            $this->filed->catchUp($card);
        }
        $shelf = $intake->shelf ?? throw SheetRefused::noShelf();
        $frames = $this->frames->ofIntake($intake->id());
        $style = $this->sheets->styleOf($intake);
        $plan = $this->sheets->plan($intake, $frames);
        $bytes = $plan->bytes();
        $unnamed = \count($plan->unnamed());
        if ($mustBeNamed && $unnamed > 0) {
            throw SheetRefused::namesMissing($unnamed);
        }
        $roots = $shelf->roots();
        foreach ($roots as $root) {
            if (!$shelf->drives($this->table)->has($root) || !is_writable($root)) {
                throw SheetRefused::shelfMissing($root);
            }
            $this->shelves->mustBeApart(
                $root,
                null,
                array_values($intake->cards->map(static fn (Card $card): string => $card->root)->toArray()),
            );
            $missing = Room::on($root, $plan->room())->missing();
            if ($missing > 0) {
                throw SheetRefused::noRoom($root, Size::inWords($missing));
            }
        }
        $clocks = $this->clocks->of($intake->id())->seconds;
        $isAnyCopied = [] !== array_filter(
            array_merge(...array_column($plan->entries, 'frames')),
            self::isCopied(...),
        );
        // a card whose frames are all filed is entered once, so that it can be cleared
        if ($mustBeNamed && !$isAnyCopied && !$this->sheets->isToBeEntered($intake, $plan)) {
            throw SheetRefused::nothingNew();
        }
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[$entry->number] = $entry;
        }
        foreach ($plan->entries as $planned) {
            $entries[$planned->entry->number]->folder = $planned->folder;
        }
        $settled = $this->settled($intake, $plan->entries, $frames, $style, $clocks);
        $this->transaction->of(function () use ($intake, $shelf, $roots, $style, $settled, $bytes): void {
            $intake->startedAt = $this->clock->now();
            // from now on nothing depends on a style that may be changed meanwhile
            $intake->styleDocument = $style->toArray();
            $intake->drives = Drives::at($this->table, $roots)->toArray();
            $shelf->remember($this->table);
            $this->entities->flush();
            if (!$this->states->settled($intake->id())) {
                throw SheetRefused::alreadyStarted($intake->id());
            }
            $files = $skipped = 0;
            foreach ($settled as [$transfers, $notCopied]) {
                $this->transfers->add($transfers);
                $this->skipped->add($notCopied);
                $files += \count($transfers);
                $skipped += \count($notCopied);
            }
            $this->ledger->write('intake_started', [
                'intake' => $intake->id(),
                'cards' => array_values($intake->cards->map(static fn ($card): string => $card->label)->toArray()),
                'shelf' => $shelf->root,
                'twin' => $shelf->twinRoot,
                'files' => $files,
                'bytes' => $bytes,
                'skipped' => $skipped,
            ]);
        });
        $this->entities->refresh($intake);
        $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => $intake->state->value]);
    }

    /** @throws IntakeRefused */
    public function pause(Intake $intake): void
    {
        $this->turn($intake, fn (): bool => $this->states->paused($intake->id()));
    }

    /** @throws IntakeRefused */
    public function resume(Intake $intake): void
    {
        $this->turn($intake, fn (): bool => $this->states->resumed($intake->id()));
        RunIntake::byAll($this->bus, $intake->id());
    }

    /**
     * What is copied stays filed; the rest stays on the card, and a new sheet offers it again.
     *
     * @throws IntakeRefused
     */
    public function stop(Intake $intake): void
    {
        $this->turn($intake, function () use ($intake): bool {
            $turned = $this->states->stopped($intake->id(), $this->clock->now());
            if ($turned) {
                $seal = $this->ledger->write('intake_stopped', ['intake' => $intake->id()]);
                $this->states->sealed($intake->id(), $seal);
            }

            return $turned;
        });
    }

    /**
     * After the cause is gone: what failed is tried again.
     *
     * @throws IntakeRefused
     */
    public function retry(Intake $intake): void
    {
        $this->turn($intake, function () use ($intake): bool {
            $turned = $this->states->retried($intake->id());
            if ($turned) {
                $this->transfers->compareFailed($intake->id());
                $this->skipped->retry($intake->id());
                $this->transfers->retry($intake->id());
            }

            return $turned;
        });
        RunIntake::byAll($this->bus, $intake->id());
    }

    /**
     * @param \Closure(): bool $turn with what belongs to it and is done at once or not at all
     *
     * @throws IntakeRefused
     */
    private function turn(Intake $intake, \Closure $turn): void
    {
        $turned = $this->transaction->of($turn);
        $this->entities->refresh($intake);
        if (!$turned) {
            throw IntakeRefused::notNow($intake->id(), $intake->state);
        }
        $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => $intake->state->value]);
    }

    /**
     * @param list<PlannedEntry>           $planned
     * @param array<int, list<SheetFrame>> $frames
     * @param array<array-key, int>        $clocks  corrections in seconds, by camera
     *
     * @return \Generator<array{list<Transfer>, list<SkippedFrame>}> what is copied, or compared, and what is not; so
     *     many frames at a time
     */
    private function settled(
        Intake $intake,
        array $planned,
        array $frames,
        HouseStyle $style,
        array $clocks,
    ): \Generator {
        $ids = [];
        $catalogue = $this->keywords->about([], PlannedMetadata::mayGive($style, ...array_column($planned, 'entry')));
        $says = new PlannedMetadata($style, $catalogue);
        /** @var array<int, Entry> $entries */
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[$entry->number] = $entry;
        }
        foreach ($planned as $plannedEntry) {
            $entry = $entries[$plannedEntry->entry->number];
            $transfers = $skipped = $facts = [];
            $filed = 0; // a pair that goes apart counts twice, the other half of one that lay on two cards not at all
            $places = [];
            foreach ($plannedEntry->frames as $position => $plannedFrame) {
                if (0 === $position % self::SETTLED_TOGETHER) {
                    yield [$transfers, $skipped];
                    $transfers = $skipped = [];
                    $facts = $this->frames->facts(
                        array_map(
                            static fn (SheetFrame $frame): int => $frame->frame->id,
                            \array_slice($frames[$entry->id()], $position, self::SETTLED_TOGETHER),
                        ),
                    );
                }
                $frame = $frames[$entry->id()][$position];
                $place = $places[$plannedFrame->filedWith ?? 0] ?? $filed++;
                $places[$frame->frame->id] = $place;
                if (self::isCopied($plannedFrame)) {
                    $onItsWay = new FrameOnItsWay(
                        $intake->id(),
                        $entry->id(),
                        $plannedFrame->filedWith ?? $frame->frame->id,
                        $place,
                        $frame->cardId,
                        $frame->picture($style->pairs),
                        $frame->capturedAt()?->text(),
                        $facts[$frame->frame->id] ?? [],
                        $plannedFrame->number,
                        $plannedFrame->frame->isLoose(),
                    );
                    $clock = $clocks[$frame->camera] ?? 0;
                    $words = function (string $name) use (
                        $says,
                        $plannedEntry,
                        $plannedFrame,
                        $clock,
                        &$ids,
                    ): PlannedWords {
                        return $this->planned(
                            $says,
                            $plannedEntry->entry,
                            $plannedFrame->frame->naming,
                            $name,
                            $clock,
                            $ids,
                        );
                    };
                    $dng = $plannedEntry->entry->dng ?? $style->dng;
                    $second = [] === $plannedFrame->apart
                        ? $onItsWay
                        : $onItsWay->second($filed++, $frame->picture(Pairs::Jpeg), $plannedFrame->apartNumber);
                    foreach (self::files($frame, $plannedFrame, $dng, $words) as $i => $file) {
                        $isApart = \in_array($plannedFrame->along[$i], $plannedFrame->apart, true);
                        $transfers[] = new Transfer($isApart ? $second : $onItsWay, $file);
                    }
                }
                if (FrameState::New !== $plannedFrame->state() && !$plannedFrame->frame->isLoose()) {
                    $skipped[] = new SkippedFrame(
                        $intake->id(),
                        $entry->id(),
                        $place,
                        $frame->frame->files[0]->path,
                        \count($frame->frame->files),
                        $frame->bytes(),
                        $frame->picture($style->pairs),
                        $frame->capturedAt()?->text(),
                        $facts[$frame->frame->id] ?? [],
                        $plannedFrame->state()->value,
                        $plannedFrame->sameAs()[0] ?? '',
                        FrameState::Unreadable === $frame->frame->state ? $frame->problems()[0]['text'] ?? '' : '',
                    );
                }
            }
            yield [$transfers, $skipped];
        }
    }

    /** Whether files of it are copied, or compared with others of the sheet. */
    private static function isCopied(PlannedFrame $frame): bool
    {
        return FrameState::New === $frame->state() || [] !== $frame->equals;
    }

    /**
     * @param \Closure(string): PlannedWords $words what a file of this name on the card is to say
     *
     * @return list<PlannedFile>
     */
    private static function files(SheetFrame $frame, PlannedFrame $planned, DngChoice $dng, \Closure $words): array
    {
        $files = [];
        $isEqual = [] !== $planned->equals;
        $hasSidecar = [] !== array_filter($planned->along, self::isSidecar(...));
        $isLoose = $planned->frame->isLoose();
        foreach ($planned->along as $i => $file) {
            $n = $planned->frame->placeOf($file);
            $repairs = $isEqual ? null : ($frame->repairs[$n] ?? null)?->fileId;
            // a sidecar that comes along is the one that is written into; beside what only a sidecar speaks for there
            // is no second one then
            $holds = $hasSidecar && \in_array($file->kind, self::SAID_BESIDE, true)
                ? false
                : $file->kind->isStill() || self::isSidecar($file) || self::leadsMovie($frame, $n);
            $files[] = new PlannedFile(
                $file->path,
                $isEqual ? $planned->equals[$i] : $planned->to[$i],
                $file->kind,
                $file->bytes,
                $file->modifiedAt,
                $frame->frame->fingerprints[$n],
                $isEqual,
                $holds && !$isEqual && !$isLoose ? $words(basename($file->path)) : null,
                $repairs,
                FileKind::Raw === $file->kind && !$isEqual && null === $repairs ? $dng : DngChoice::No,
            );
        }

        return $files;
    }

    /** @param array<string, int> $ids */
    private function planned(
        PlannedMetadata $planned,
        EntryToFile $entry,
        FrameNaming $frame,
        string $originalName,
        int $clock,
        array &$ids,
    ): PlannedWords {
        $keywords = [];
        foreach ($planned->keywords($entry, $frame) as $path) {
            $keywords[] = $ids[$path->key()] ??= $this->keywords->ids([$path])[0];
        }

        return new PlannedWords(
            $planned->texts($entry, $frame),
            $keywords,
            PlannedMetadata::ofFile($frame, $originalName, 0 !== $clock),
            $clock,
        );
    }

    /** Whether it is a movie, or sound, that stands for its frame: what is said of it goes into a sidecar. */
    private static function leadsMovie(SheetFrame $frame, int $n): bool
    {
        return 0 === $n && $frame->frame->files[0]->kind->isMovieOrSound();
    }

    private static function isSidecar(CardFile $file): bool
    {
        return FileKind::Sidecar === $file->kind && 'xmp' === strtolower(pathinfo($file->path, \PATHINFO_EXTENSION));
    }
}
