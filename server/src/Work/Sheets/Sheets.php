<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Shoot\Arrangement;
use Velvet\Core\Shoot\CaptureOrder;
use Velvet\Core\Shoot\TimedFrame;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Store\Arrangements;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\FiledCounters;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\SheetFrame;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\ShelfNames;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Keywords\Keywords;

/** The sheets: opened for cards, divided by the rules, planned. What is done on them by hand is {@see SheetEdits}'. */
final readonly class Sheets
{
    /** @var \WeakMap<Intake, array{array<mixed>, HouseStyle}> styles that were settled with an intake, read once */
    private \WeakMap $settled;

    public function __construct(
        private EntityManagerInterface $entities,
        private SheetFrames $frames,
        private Arrangements $arrangements,
        private Styles $styles,
        private FiledCounters $counters,
        private ClockInterface $clock,
        private Happenings $happenings,
        private Keywords $keywords,
        private ShelfNames $names,
        private CardClearance $clearance,
        private Locks $locks,
    ) {
        $this->settled = new \WeakMap();
    }

    /**
     * The sheet that is open for exactly these cards, or a new one.
     *
     * @param non-empty-list<Card> $cards
     * @param HouseStyle|null      $style null: the one that is offered for the first card
     *
     * @throws SheetRefused
     */
    public function open(array $cards, ?HouseStyle $style = null): Intake
    {
        foreach ($cards as $card) {
            if (CardState::Read !== $card->state) {
                throw SheetRefused::cardNotRead($card->label);
            }
        }

        return $this->locks->with(Lock::OpenedSheets, 0, fn (): Intake => $this->openAlone($cards, $style));
    }

    /**
     * The sheet that is open for these cards already, or a new one.
     *
     * @param non-empty-list<Card> $cards
     */
    private function openAlone(array $cards, ?HouseStyle $style): Intake
    {
        $wanted = array_map(static fn (Card $card): int => $card->id(), $cards);
        sort($wanted);
        $open = [IntakeState::Sheet, IntakeState::Waiting, IntakeState::Running, IntakeState::Paused];
        $intakes = $this->entities->getRepository(Intake::class)->findBy(['state' => $open], ['id' => 'DESC']);
        foreach ($intakes as $intake) {
            $has = $intake->cards->map(static fn (Card $card): int => $card->id())->toArray();
            sort($has);
            if ($has === $wanted) {
                return $intake;
            }
        }
        $style ??= $this->styles->offeredFor($cards[0]);
        $intake = new Intake($cards, $style, $this->clock->now());
        $shelves = $this->entities->getRepository(Shelf::class);
        foreach ($style->ties->shelves as $name) {
            $intake->shelf ??= $shelves->findOneBy(['name' => $name]);
        }
        $intake->shelf ??= $shelves->findOneBy([], ['id' => 'ASC']);
        // nobody sees a sheet that is not divided yet, and divides it as well
        $this->entities->wrapInTransaction(function () use ($intake): void {
            $this->entities->persist($intake);
            $this->entities->flush();
            $this->divide($intake);
        });

        return $intake;
    }

    /**
     * After a card was read again: the sheets that are being planned for it take in what is new on it; what was done by
     * hand stays.
     */
    public function cardWasRead(Card $card): void
    {
        foreach ($this->entities->getRepository(Intake::class)->findBy(['state' => IntakeState::Sheet]) as $intake) {
            if ($intake->cards->contains($card)) {
                $this->locks->with(Lock::Sheet, $intake->id(), fn () => $this->takeInNew($intake));
                $this->happenings->tell('sheet', ['id' => $intake->id()]); // also where no frame is new, facts may be
            }
        }
    }

    /** A shelf became known: sheets that were opened while there was none have it. */
    public function shelfIsKnown(Shelf $shelf): void
    {
        $this->locks->with(Lock::OpenedSheets, 0, function () use ($shelf): void {
            $without = ['state' => IntakeState::Sheet, 'shelf' => null];
            foreach ($this->entities->getRepository(Intake::class)->findBy($without) as $intake) {
                $this->locks->with(Lock::Sheet, $intake->id(), fn () => $this->takeShelf($intake, $shelf));
            }
        });
    }

    private function takeShelf(Intake $intake, Shelf $shelf): void
    {
        $this->entities->refresh($intake);
        if (IntakeState::Sheet === $intake->state && null === $intake->shelf) {
            $intake->shelf = $shelf;
            ++$intake->revision;
            $this->entities->flush();
            $this->happenings->tell('sheet', ['id' => $intake->id(), 'revision' => $intake->revision]);
        }
    }

    private function takeInNew(Intake $intake): void
    {
        $this->entities->refresh($intake);
        if (IntakeState::Sheet === $intake->state) {
            $timed = CaptureOrder::of($this->frames->timed($intake));
            $places = $this->arrangements->places($intake);
            $now = $this->arrangements->of($intake, $places, self::order($timed));
            $known = $now->numbers();
            $new = array_values(
                array_filter($timed, static fn (TimedFrame $frame): bool => !isset($known[$frame->id])),
            );
            if ([] !== $new || \count($known) !== \count($timed) || [] === $now->entries) {
                $ticks = [];
                foreach ($timed as $frame) {
                    $ticks[$frame->id] = $frame->capturedAt?->ticks() ?? 0;
                }
                ++$intake->revision; // what is not known to a page shifts what it sees
                $this->arrangements->keep(
                    $intake,
                    $now->taking($intake->division()->divide($new), self::order($timed), $ticks),
                    self::order($timed),
                    $places,
                );
            }
        }
    }

    /**
     * Divides the frames of the sheet's cards by its rule; an entry keeps what was typed where there is again one of
     * its day.
     */
    public function divide(Intake $intake): void
    {
        $timed = CaptureOrder::of($this->frames->timed($intake));
        $order = self::order($timed);
        $places = $this->arrangements->places($intake);
        $this->arrangements->keep(
            $intake,
            Arrangement::divided(
                $intake->division()->divide($timed),
                $this->arrangements->of($intake, $places, $order),
            ),
            $order,
            $places,
        );
    }

    /** @throws SheetRefused when the copy has begun: names are settled then */
    public function mustBeOpen(Intake $intake): void
    {
        if (IntakeState::Sheet !== $intake->state) {
            throw SheetRefused::alreadyStarted($intake->id());
        }
    }

    /** The sheet's style with what was chosen on the sheet in place of its rules. */
    public function styleOf(Intake $intake): HouseStyle
    {
        $style = null === $intake->styleDocument
            ? $this->styles->namedOrStandard($intake->style)
            : $this->settled($intake, $intake->styleDocument);

        return $style->today($intake->division(), $intake->kinds, $intake->companions);
    }

    /** @param array<mixed> $document it is asked for with each file that is copied */
    private function settled(Intake $intake, array $document): HouseStyle
    {
        $kept = $this->settled[$intake] ?? null;
        if (null === $kept || $kept[0] !== $document) {
            $kept = [$document, HouseStyle::fromArray($document)];
            $this->settled[$intake] = $kept;
        }

        return $kept[1];
    }

    /** @param array<int, list<SheetFrame>> $frames by entry */
    public function plan(Intake $intake, array $frames): IntakePlan
    {
        $keywords = [];
        foreach ($intake->entries as $entry) {
            array_push($keywords, ...$entry->keywords);
        }
        $catalogue = $this->keywords->about($keywords);
        $style = $this->styleOf($intake);
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[] = new EntryToFile(
                $entry->number, $entry->day, $entry->name,
                array_column($frames[$entry->id()] ?? [], 'frame'),
                $entry->kind, $entry->client, $entry->intoShoot?->folder, $entry->description, $entry->rights,
                array_map($catalogue->path(...), array_values(array_filter($entry->keywords, $catalogue->has(...)))),
                DngChoice::tryFrom($entry->dng),
                $entry->trip,
                $entry->strays,
            );
        }

        return IntakePlan::of(
            $entries,
            $this->names->given($intake->shelf?->roots() ?? [], $intake->shelf, $intake->id()),
            $style,
            $this->counters,
        );
    }

    /** Whether there is nothing to copy, but a card whose frames are filed was never entered in the ledger. */
    public function isToBeEntered(Intake $intake, IntakePlan $plan): bool
    {
        return !$plan->copiesAnything()
            && $plan->isFiled()
            && [] !== array_filter(
                $intake->cards->toArray(),
                fn (Card $card): bool => !$this->clearance->wasTakenIn($card),
            );
    }

    /**
     * @param list<TimedFrame> $timed in capture order
     *
     * @return array<int, int> place of each frame, by its id
     */
    public static function order(array $timed): array
    {
        return array_flip(array_map(static fn (TimedFrame $frame): int => $frame->id, $timed));
    }
}
