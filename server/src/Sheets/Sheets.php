<?php

declare(strict_types=1);

namespace Velvet\Server\Sheets;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Transfer\EntryToFile;
use Velvet\Core\Transfer\FoldersOnDisk;
use Velvet\Core\Transfer\IntakePlan;
use Velvet\Server\Cards\CardState;
use Velvet\Server\Entity\Card;
use Velvet\Server\Entity\Entry;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Entity\Shelf;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Intakes\IntakeState;
use Velvet\Server\JsonRows;

/** The sheets: opened for cards, divided by the rules, kept as they are edited. */
final readonly class Sheets
{
    public function __construct(
        private EntityManagerInterface $entities,
        private JsonRows $jsonRows,
        private SheetFrames $frames,
        private ClockInterface $clock,
        private Happenings $happenings,
    ) {
    }

    /**
     * The sheet that is open for exactly these cards, or a new one.
     *
     * @param non-empty-list<Card> $cards
     *
     * @throws SheetRefused
     */
    public function open(array $cards, Division $division): Intake
    {
        foreach ($cards as $card) {
            if (CardState::Read !== $card->state) {
                throw SheetRefused::cardNotRead($card->label);
            }
        }
        $wanted = array_map(static fn (Card $card): int => $card->id(), $cards);
        sort($wanted);
        foreach ($this->entities->getRepository(Intake::class)->findBy(['state' => [IntakeState::Sheet, IntakeState::Waiting, IntakeState::Running, IntakeState::Paused]], ['id' => 'DESC']) as $intake) {
            $has = $intake->cards->map(static fn (Card $card): int => $card->id())->toArray();
            sort($has);
            if ($has === $wanted) {
                return $intake;
            }
        }
        $intake = new Intake($cards, $division->boundary->text(), $division->breakAfterMinutes, $this->clock->now());
        $intake->shelf = $this->entities->getRepository(Shelf::class)->findOneBy([], ['id' => 'ASC']);
        $this->entities->persist($intake);
        $this->entities->flush();
        $this->divide($intake);

        return $intake;
    }

    /** After a card was read again: the sheets that are being planned for it take its frames as they are now. */
    public function cardWasRead(Card $card): void
    {
        foreach ($this->entities->getRepository(Intake::class)->findBy(['state' => IntakeState::Sheet]) as $intake) {
            if ($intake->cards->contains($card)) {
                $this->divide($intake);
                $this->happenings->tell('sheet', ['id' => $intake->id()]);
            }
        }
    }

    /** Divides the frames of the sheet's cards; an entry keeps its name as long as there is an entry of its day and place among them. */
    public function divide(Intake $intake): void
    {
        $minutes = $intake->breakAfter;
        \assert(null === $minutes || $minutes > 0);
        $division = new Division(DayBoundary::at($intake->dayStarts), $minutes);
        $timed = [];
        foreach ($intake->cards as $card) {
            array_push($timed, ...$this->frames->timed($card->id()));
        }
        $names = [];
        foreach ($intake->entries as $entry) {
            $names[$entry->day ?? ''][] = $entry->name;
            $this->entities->remove($entry);
        }
        $this->entities->flush();
        $intake->entries->clear();
        $rows = [];
        foreach ($division->divide($timed) as $i => $group) {
            $entry = new Entry($intake, $i + 1, $group->day);
            $day = $group->day ?? '';
            if (isset($names[$day]) && [] !== $names[$day]) {
                $entry->name = array_shift($names[$day]);
            }
            $intake->entries->add($entry);
            $this->entities->persist($entry);
            $this->entities->flush();
            foreach ($group->frames as $position => $frame) {
                $rows[] = ['entry' => $entry->id(), 'frame' => $frame->id, 'position' => $position];
            }
        }
        $this->jsonRows->execute('INSERT INTO entry_frame (entry_id, frame_id, position) SELECT entry, frame, position FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(entry int, frame bigint, position int)', $rows);
    }

    /** @throws SheetRefused */
    public function name(Intake $intake, int $number, string $name): void
    {
        $this->mustBeOpen($intake);
        foreach ($intake->entries as $entry) {
            if ($entry->number === $number) {
                $entry->name = mb_substr($name, 0, 400);
                $this->entities->flush();
                $this->happenings->tell('sheet', ['id' => $intake->id()]);

                return;
            }
        }
        throw SheetRefused::noSuchEntry($number);
    }

    /** @throws SheetRefused */
    public function shelve(Intake $intake, Shelf $shelf): void
    {
        $this->mustBeOpen($intake);
        $intake->shelf = $shelf;
        $this->entities->flush();
        $this->happenings->tell('sheet', ['id' => $intake->id()]);
    }

    /** @throws SheetRefused when the copy has begun: names are settled then */
    public function mustBeOpen(Intake $intake): void
    {
        if (IntakeState::Sheet !== $intake->state) {
            throw SheetRefused::alreadyStarted($intake->id());
        }
    }

    /** @param array<int, list<SheetFrame>> $frames by entry */
    public function plan(Intake $intake, array $frames): IntakePlan
    {
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[] = new EntryToFile($entry->number, $entry->day, $entry->name, array_map(static fn (SheetFrame $frame) => $frame->toFile(), $frames[$entry->id()] ?? []));
        }

        return IntakePlan::of($entries, new FoldersOnDisk($intake->shelf?->roots() ?? []));
    }
}
