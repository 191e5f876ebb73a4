<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Transfer\FrameState;
use Velvet\Core\Transfer\PlannedEntry;
use Velvet\Core\Transfer\PlannedFrame;
use Velvet\Core\Transfer\Room;
use Velvet\Server\Entity\Entry;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\JsonRows;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Sheets\SheetFrame;
use Velvet\Server\Sheets\SheetFrames;
use Velvet\Server\Sheets\SheetRefused;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Words;

/** Starts, pauses and stops intakes. Starting settles the plan: from then on every file has its name. */
final readonly class Intakes
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private JsonRows $jsonRows,
        private Sheets $sheets,
        private SheetFrames $frames,
        private Ledger $ledger,
        private Happenings $happenings,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Settles the plan and asks for the copy.
     *
     * @throws SheetRefused
     */
    public function start(Intake $intake): void
    {
        $this->settle($intake, true);
        $this->bus->dispatch(new RunIntake($intake->id()));
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
        $this->sheets->mustBeOpen($intake);
        $shelf = $intake->shelf ?? throw SheetRefused::noShelf();
        $frames = $this->frames->ofIntake($intake->id());
        $plan = $this->sheets->plan($intake, $frames);
        $bytes = $plan->bytes();
        $unnamed = \count($plan->unnamed());
        if ($mustBeNamed && $unnamed > 0) {
            throw SheetRefused::namesMissing($unnamed);
        }
        foreach ($shelf->roots() as $root) {
            if (!is_dir($root) || !is_writable($root)) {
                throw SheetRefused::shelfMissing($root);
            }
            $missing = Room::on($root, $bytes)->missing();
            if ($missing > 0) {
                throw SheetRefused::noRoom($root, Words::bytes($missing));
            }
        }
        [$transfers, $skipped] = $this->rows($intake, $plan->entries, $frames);
        if ($mustBeNamed && [] === $transfers) {
            throw SheetRefused::nothingNew();
        }
        $this->entities->wrapInTransaction(function () use ($intake, $shelf, $transfers, $skipped, $bytes): void {
            $intake->state = IntakeState::Waiting;
            $intake->startedAt = $this->clock->now();
            $this->entities->flush();
            $this->jsonRows->execute(<<<'SQL'
                INSERT INTO transfer (intake_id, entry_id, frame_key, frame_position, card_id, source, target, kind, bytes, modified_at, fingerprint, picture, captured_at, facts, counter)
                SELECT :intake, entry_id, frame_key, frame_position, card_id, source, target, kind, bytes, modified_at, fingerprint, picture, captured_at, facts, counter
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(entry_id int, frame_key bigint, frame_position int, card_id int, source text, target text, kind text, bytes bigint, modified_at bigint, fingerprint text, picture text, captured_at timestamp(3), facts jsonb, counter int)
                SQL, $transfers, ['intake' => $intake->id()]);
            $this->jsonRows->execute('INSERT INTO skipped (intake_id, entry_id, frame_position, path, files, bytes, picture, captured_at, state, same_as, problem) SELECT :intake, entry_id, frame_position, path, files, bytes, picture, captured_at, state, same_as, problem FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(entry_id int, frame_position int, path text, files int, bytes bigint, picture text, captured_at timestamp(3), state text, same_as text, problem text)', $skipped, ['intake' => $intake->id()]);
            $this->ledger->write('intake_started', [
                'intake' => $intake->id(),
                'cards' => array_values($intake->cards->map(static fn ($card): string => $card->label)->toArray()),
                'shelf' => $shelf->root,
                'twin' => $shelf->twinRoot,
                'files' => \count($transfers),
                'bytes' => $bytes,
                'skipped' => \count($skipped),
            ]);
        });
        $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => $intake->state->value]);
    }

    public function pause(Intake $intake): void
    {
        $this->turn($intake, [IntakeState::Waiting, IntakeState::Running], IntakeState::Paused);
    }

    public function resume(Intake $intake): void
    {
        $this->turn($intake, [IntakeState::Paused], IntakeState::Waiting);
        $this->bus->dispatch(new RunIntake($intake->id()));
    }

    /** What is copied stays filed; the rest stays on the card, and a new sheet offers it again. */
    public function stop(Intake $intake): void
    {
        $this->turn($intake, [IntakeState::Waiting, IntakeState::Running, IntakeState::Paused], IntakeState::Stopped);
        $intake->finishedAt = $this->clock->now();
        $this->entities->flush();
        $this->ledger->write('intake_stopped', ['intake' => $intake->id()]);
    }

    /**
     * After the cause is gone: what failed is tried again.
     *
     * @throws IntakeRefused
     */
    public function retry(Intake $intake): void
    {
        $this->turn($intake, [IntakeState::Done], IntakeState::Waiting);
        $this->database->executeStatement("UPDATE transfer SET state = 'planned', failure = NULL WHERE intake_id = :intake AND state = 'failed'", ['intake' => $intake->id()]);
        $this->bus->dispatch(new RunIntake($intake->id()));
    }

    /**
     * @param list<IntakeState> $from
     *
     * @throws IntakeRefused
     */
    private function turn(Intake $intake, array $from, IntakeState $to): void
    {
        if (!\in_array($intake->state, $from, true)) {
            throw IntakeRefused::notNow($intake->id(), $intake->state);
        }
        $intake->state = $to;
        $this->entities->flush();
        $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => $to->value]);
    }

    /**
     * @param list<PlannedEntry>           $planned
     * @param array<int, list<SheetFrame>> $frames
     *
     * @return array{list<array<string, mixed>>, list<array<string, mixed>>} rows of `transfer` and of `skipped`
     */
    private function rows(Intake $intake, array $planned, array $frames): array
    {
        $transfers = $skipped = [];
        /** @var array<int, Entry> $entries */
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[$entry->number] = $entry;
        }
        foreach ($planned as $plannedEntry) {
            $entry = $entries[$plannedEntry->entry->number];
            $entry->folder = $plannedEntry->folder;
            $facts = $this->frames->facts($frames[$entry->id()] ?? []);
            foreach ($plannedEntry->frames as $position => $plannedFrame) {
                $frame = $frames[$entry->id()][$position];
                if (FrameState::New === $plannedFrame->state()) {
                    array_push($transfers, ...$this->transferRows($entry->id(), $position, $frame, $plannedFrame, $facts[$frame->id] ?? []));
                } else {
                    $skipped[] = [
                        'entry_id' => $entry->id(), 'frame_position' => $position, 'path' => $frame->files[0]->path, 'files' => \count($frame->files), 'bytes' => $frame->bytes(), 'picture' => $frame->picture, 'captured_at' => $frame->capturedAt()?->text(),
                        'state' => $plannedFrame->state()->value, 'same_as' => $plannedFrame->sameAs() ?? '', 'problem' => FrameState::Unreadable === $frame->state ? $frame->problems()[0]['text'] ?? '' : '',
                    ];
                }
            }
        }

        return [$transfers, $skipped];
    }

    /**
     * @param array<mixed> $facts
     *
     * @return list<array<string, mixed>>
     */
    private function transferRows(int $entryId, int $position, SheetFrame $frame, PlannedFrame $planned, array $facts): array
    {
        $rows = [];
        foreach ($planned->along as $i => $file) {
            $rows[] = [
                'entry_id' => $entryId, 'frame_key' => $frame->id, 'frame_position' => $position, 'card_id' => $frame->cardId, 'source' => $file->path, 'target' => $planned->to[$i],
                'kind' => $file->kind->value, 'bytes' => $file->bytes, 'modified_at' => $file->modifiedAt, 'fingerprint' => $frame->fingerprints[(int) array_search($file, $frame->files, true)], 'picture' => $frame->picture,
                'captured_at' => $frame->capturedAt()?->text(), 'facts' => $facts, 'counter' => $planned->number,
            ];
        }

        return $rows;
    }
}
