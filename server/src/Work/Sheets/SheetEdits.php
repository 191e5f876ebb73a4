<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Shoot\ArrangedEntry;
use Velvet\Core\Shoot\Arrangement;
use Velvet\Core\Shoot\CaptureOrder;
use Velvet\Core\Shoot\Clocks;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\EntryWords;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;
use Velvet\Server\Store\Arrangements;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Work\Metadata\Keywords;

/** What is done on a sheet by hand. Every edit can be undone and done again; all of it is in the database at once. */
final readonly class SheetEdits
{
    private const LONGEST_NAME = 400;
    private const LONGEST_DESCRIPTION = 20_000;
    private const MOST_STEPS = 200;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private JsonRows $jsonRows,
        private Rows $rows,
        private Sheets $sheets,
        private SheetFrames $frames,
        private Arrangements $arrangements,
        private Happenings $happenings,
        private Keywords $keywords,
    ) {
    }

    /**
     * What an entry is called, of what kind and for whom.
     *
     * @throws SheetRefused
     */
    public function name(Intake $intake, int $number, ?string $name, ?string $kind = null, ?string $client = null): void
    {
        $entry = $this->entry($intake, $number);
        // typing on in one field is one step
        $this->step($intake, \sprintf('name of entry %d', $number), static function () use ($entry, $name, $kind, $client): void {
            $entry->name = mb_substr($name ?? $entry->name, 0, self::LONGEST_NAME);
            $entry->kind = mb_substr($kind ?? $entry->kind, 0, self::LONGEST_NAME);
            $entry->client = mb_substr($client ?? $entry->client, 0, self::LONGEST_NAME);
        }, true);
    }

    /** What the frames of an entry show. */
    public function describe(Intake $intake, int $number, string $description): void
    {
        $entry = $this->entry($intake, $number);
        $this->step($intake, \sprintf('description of entry %d', $number), static function () use ($entry, $description): void {
            $entry->description = mb_substr($description, 0, self::LONGEST_DESCRIPTION);
        }, true);
    }

    /** Which of the style's rights sets holds for an entry; empty: what the style says for all. */
    public function claim(Intake $intake, int $number, string $rights): void
    {
        $entry = $this->entry($intake, $number);
        $this->step($intake, \sprintf('rights of entry %d', $number), static function () use ($entry, $rights): void {
            $entry->rights = $rights;
        });
    }

    /** Whether the raw files of an entry become DNG; null: what the style says. */
    public function convert(Intake $intake, int $number, ?DngChoice $dng): void
    {
        $entry = $this->entry($intake, $number);
        $this->step($intake, \sprintf('DNG of entry %d', $number), static function () use ($entry, $dng): void {
            $entry->dng = $dng->value ?? '';
        });
    }

    /**
     * Told as what comes and goes, so that two that come close upon one another do not undo each other.
     *
     * @param list<KeywordPath> $add
     * @param list<KeywordPath> $remove
     */
    public function tag(Intake $intake, int $number, array $add, array $remove = []): void
    {
        $entry = $this->entry($intake, $number);
        $ids = $this->keywords->ids($add);
        $tree = $this->keywords->about([], $remove);
        $gone = array_map(static fn (KeywordPath $path): ?int => $tree->find($tree->placed($path))?->id, $remove);
        $this->step($intake, \sprintf('keywords of entry %d', $number), function () use ($entry, $ids, $gone): void {
            $this->keywords->used(array_values(array_diff($ids, $entry->keywords)));
            $entry->keywords = array_values(array_diff(array_unique([...$entry->keywords, ...$ids]), $gone));
        });
    }

    /** Files an entry into a shoot that is there, or into one of its own. */
    public function fileInto(Intake $intake, int $number, ?Shoot $shoot): void
    {
        $entry = $this->entry($intake, $number);
        $label = null === $shoot
            ? \sprintf('entry %d as a new shoot', $number)
            : \sprintf('entry %d into “%s”', $number, $shoot->name);
        $this->step($intake, $label, static function () use ($entry, $shoot): void {
            $entry->intoShoot = $shoot;
        });
    }

    public function shelve(Intake $intake, Shelf $shelf): void
    {
        $this->sheets->mustBeOpen($intake);
        $intake->shelf = $shelf;
        foreach ($intake->entries as $entry) { // a shoot lies on its own shelf
            $entry->intoShoot = $entry->intoShoot?->shelf === $shelf ? $entry->intoShoot : null;
        }
        $this->entities->flush();
        $this->tell($intake);
    }

    public function split(Intake $intake, int $frame): void
    {
        $this->rearrange(
            $intake,
            'a split',
            static fn (Arrangement $now, array $order): Arrangement => $now->split($frame, $order),
        );
    }

    public function join(Intake $intake, int $number): void
    {
        $this->rearrange(
            $intake,
            \sprintf('entries %d and %d joined', $number - 1, $number),
            static fn (Arrangement $now, array $order): Arrangement => $now->join($number, $order),
        );
    }

    /**
     * @param list<int> $frames
     * @param int|null  $number null: a new entry
     */
    public function move(Intake $intake, array $frames, ?int $number): void
    {
        $day = null === $number && [] !== $frames ? $this->dayOf($intake, $frames[0]) : null;
        $this->rearrange(
            $intake,
            \sprintf(1 === \count($frames) ? '%d frame moved' : '%d frames moved', \count($frames)),
            static fn (Arrangement $now, array $order): Arrangement => $now->move($frames, $number, $order, $day),
        );
    }

    /** @param list<int> $frames */
    public function leaveOut(Intake $intake, array $frames, bool $out): void
    {
        $noun = 1 === \count($frames) ? 'frame' : 'frames';
        $label = \sprintf('%d %s %s', \count($frames), $noun, $out ? 'left out' : 'taken back');
        $this->step($intake, $label, function () use ($intake, $frames, $out): void {
            $this->setLeftOut($intake, $frames, $out);
        });
    }

    /** Follows another style from its rules on. */
    public function follow(Intake $intake, HouseStyle $style): void
    {
        $this->step($intake, \sprintf('house style %s', $style->name), function () use ($intake, $style): void {
            $intake->follow($style);
            $this->entities->flush();
            $this->sheets->divide($intake);
        });
    }

    public function divideBy(Intake $intake, Division $division): void
    {
        $this->step($intake, 'another division', function () use ($intake, $division): void {
            $intake->dividing($division);
            $this->entities->flush();
            $this->sheets->divide($intake);
        });
    }

    public function take(Intake $intake, Kinds $kinds, bool $companions): void
    {
        $this->step($intake, 'what comes along', static function () use ($intake, $kinds, $companions): void {
            $intake->kinds = $kinds;
            $intake->companions = $companions;
        });
    }

    /**
     * Corrects a camera's clock; order, division and names follow.
     *
     * @throws SheetRefused
     */
    public function correct(Intake $intake, string $camera, int $seconds): void
    {
        if (abs($seconds) > Clocks::MOST_SECONDS) {
            throw SheetRefused::clockTooFar();
        }
        $this->step($intake, \sprintf('clock of %s', $camera), function () use ($intake, $camera, $seconds): void {
            $this->setClocks($intake, [$camera => $seconds] + $this->frames->clocks($intake->id())->seconds);
            $this->sheets->divide($intake);
        });
    }

    /** @return array{undo: string|null, redo: string|null} what would be undone and done again */
    public function history(Intake $intake): array
    {
        return [
            'undo' => $this->last($intake, false)?->text('label'),
            'redo' => $this->last($intake, true)?->text('label'),
        ];
    }

    public function undo(Intake $intake): void
    {
        $this->sheets->mustBeOpen($intake);
        $step = $this->last($intake, false);
        if (null !== $step) {
            $this->entities->wrapInTransaction(function () use ($intake, $step): void {
                $this->database->executeStatement(
                    'UPDATE sheet_step SET after = CAST(:after AS jsonb) WHERE id = :id',
                    ['after' => $this->snapshot($intake), 'id' => $step->int('id')],
                );
                $this->restore($intake, $step->json('before'));
            });
            $this->tell($intake);
        }
    }

    public function redo(Intake $intake): void
    {
        $this->sheets->mustBeOpen($intake);
        $step = $this->last($intake, true);
        if (null !== $step) {
            $this->entities->wrapInTransaction(function () use ($intake, $step): void {
                $this->restore($intake, $step->json('after'));
                $this->database->executeStatement(
                    'UPDATE sheet_step SET after = NULL WHERE id = :id',
                    ['id' => $step->int('id')],
                );
            });
            $this->tell($intake);
        }
    }

    /** @param \Closure(Arrangement, array<int, int>): Arrangement $change */
    private function rearrange(Intake $intake, string $label, \Closure $change): void
    {
        $this->sheets->mustBeOpen($intake);
        $places = $this->arrangements->places($intake);
        $order = array_flip(array_keys($places));
        $now = $this->arrangements->of($intake, $places, $order);
        $this->step($intake, $label, function () use ($intake, $change, $now, $order, $places): void {
            $this->arrangements->keep($intake, $change($now, $order), $order, $places);
        }, false, $now);
    }

    /**
     * Does something that can be undone.
     *
     * @param \Closure(): void $do
     * @param bool             $goesOn whether doing the same again is part of the same step
     * @param Arrangement|null $now    where it is at hand already
     */
    private function step(
        Intake $intake,
        string $label,
        \Closure $do,
        bool $goesOn = false,
        ?Arrangement $now = null,
    ): void {
        $this->sheets->mustBeOpen($intake);
        $this->entities->wrapInTransaction(function () use ($intake, $label, $do, $goesOn, $now): void {
            $last = $goesOn ? $this->last($intake, false) : null;
            $undone = $this->last($intake, true);
            if (null === $last || $last->text('label') !== $label || null !== $undone) {
                $this->database->executeStatement(
                    'DELETE FROM sheet_step WHERE intake_id = :intake AND (after IS NOT NULL OR id <= (SELECT id
                        FROM sheet_step WHERE intake_id = :intake ORDER BY id DESC OFFSET :most LIMIT 1))',
                    ['intake' => $intake->id(), 'most' => self::MOST_STEPS],
                );
                $this->database->executeStatement(
                    'INSERT INTO sheet_step (intake_id, label, before)
                        VALUES (:intake, :label, CAST(:before AS jsonb))',
                    ['intake' => $intake->id(), 'label' => $label, 'before' => $this->snapshot($intake, $now)],
                );
            }
            $do();
            $this->entities->flush();
        });
        $this->tell($intake);
    }

    private function last(Intake $intake, bool $undone): ?Row
    {
        return $this->rows->first($undone
            ? 'SELECT id, label, after FROM sheet_step WHERE intake_id = :intake AND after IS NOT NULL ORDER BY id
                LIMIT 1'
            : 'SELECT id, label, before FROM sheet_step WHERE intake_id = :intake AND after IS NULL ORDER BY id DESC
                LIMIT 1', ['intake' => $intake->id()]);
    }

    /** Everything on the sheet that can be edited, as JSON. */
    private function snapshot(Intake $intake, ?Arrangement $now = null): string
    {
        $division = $intake->division();
        if (null === $now) {
            $places = $this->arrangements->places($intake);
            $now = $this->arrangements->of($intake, $places, array_flip(array_keys($places)));
        }

        return json_encode([
            'entries' => array_map(
                static fn (ArrangedEntry $entry): array => [
                    'id' => $entry->id,
                    'day' => $entry->day,
                    'words' => $entry->words,
                    'shoot' => $entry->shoot,
                    'frames' => $entry->frames,
                ],
                $now->entries,
            ),
            'left_out' => $this->leftOutNow($intake),
            'style' => $intake->style,
            'divide' => [
                'by' => $division->by->value,
                'day_starts' => $division->boundary->text(),
                'break_after' => $division->breakAfterMinutes,
            ],
            'kinds' => $intake->kinds->value,
            'companions' => $intake->companions,
            'clocks' => (object) $this->frames->clocks($intake->id())->seconds,
        ], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
    }

    /** @param array<mixed> $snapshot as {@see snapshot()} made it */
    private function restore(Intake $intake, array $snapshot): void
    {
        $divide = $snapshot['divide'] ?? null;
        \assert(
            \is_array($divide)
                && \is_string($divide['by'])
                && \is_string($divide['day_starts'])
                && \is_array($snapshot['entries'])
                && \is_array($snapshot['left_out'])
                && \is_array($snapshot['clocks'])
                && \is_string($snapshot['style'])
                && \is_string($snapshot['kinds']),
        );
        $intake->style = $snapshot['style'];
        $intake->dividing(
            new Division(
                DayBoundary::at($divide['day_starts']),
                \is_int($divide['break_after']) ? max(1, $divide['break_after']) : null,
                DivideBy::from($divide['by']),
            ),
        );
        $intake->kinds = Kinds::from($snapshot['kinds']);
        $intake->companions = true === $snapshot['companions'];
        $clocks = array_filter($snapshot['clocks'], is_int(...));
        $clocksChanged = $clocks !== $this->frames->clocks($intake->id())->seconds; // in whatever order
        $this->setClocks($intake, $clocks);
        $out = array_values(array_filter($snapshot['left_out'], is_int(...)));
        $this->setLeftOut($intake, array_values(array_diff($this->leftOutNow($intake), $out)), false);
        $this->setLeftOut($intake, $out, true);
        $entries = [];
        foreach ($snapshot['entries'] as $entry) {
            \assert(\is_array($entry) && \is_array($entry['frames']));
            // steps that were kept before entries had keywords hold the words beside the rest
            $entries[] = new ArrangedEntry(
                \is_int($entry['id']) ? $entry['id'] : null,
                \is_string($entry['day']) ? $entry['day'] : null,
                EntryWords::fromArray(\is_array($entry['words'] ?? null) ? $entry['words'] : $entry),
                array_values(array_filter($entry['frames'], is_int(...))),
                \is_int($entry['shoot']) ? $entry['shoot'] : null,
            );
        }
        $this->entities->flush();
        $places = $this->arrangements->places($intake);
        // the order is what it was unless a clock was set in between
        $order = $clocksChanged
            ? Sheets::order(CaptureOrder::of($this->frames->timed($intake)))
            : array_flip(array_keys($places));
        $this->arrangements->keep($intake, Arrangement::of($entries, $order), $order, $places);
    }

    /** @return list<int> */
    private function leftOutNow(Intake $intake): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(
                'SELECT f.id FROM card_frame f JOIN intake_card ic ON ic.card_id = f.card_id
                    WHERE ic.intake_id = :intake AND f.left_out',
                ['intake' => $intake->id()],
            ),
        );
    }

    /** @param list<int> $frames */
    private function setLeftOut(Intake $intake, array $frames, bool $out): void
    {
        $this->jsonRows->execute(
            'UPDATE card_frame f SET left_out = :out, let_go = let_go AND :out
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint), intake_card ic WHERE f.id = r.id
                AND ic.card_id = f.card_id AND ic.intake_id = :intake',
            array_map(static fn (int $id): array => ['id' => $id], $frames),
            ['out' => $out ? 'true' : 'false', 'intake' => $intake->id()],
        );
    }

    /** @param array<array-key, int> $seconds by camera */
    private function setClocks(Intake $intake, array $seconds): void
    {
        $this->database->executeStatement(
            'DELETE FROM sheet_clock WHERE intake_id = :intake',
            ['intake' => $intake->id()],
        );
        foreach (array_filter($seconds, static fn (int $value): bool => 0 !== $value) as $camera => $value) {
            $this->database->executeStatement(
                'INSERT INTO sheet_clock (intake_id, camera, seconds) VALUES (:intake, :camera, :seconds)',
                ['intake' => $intake->id(), 'camera' => (string) $camera, 'seconds' => $value],
            );
        }
    }

    private function dayOf(Intake $intake, int $id): ?string
    {
        foreach ($this->frames->timed($intake) as $frame) {
            if ($frame->id === $id) {
                return $intake->division()->dayOf($frame);
            }
        }

        return null;
    }

    /** @throws SheetRefused */
    private function entry(Intake $intake, int $number): Entry
    {
        $this->sheets->mustBeOpen($intake);
        foreach ($intake->entries as $entry) {
            if ($entry->number === $number) {
                return $entry;
            }
        }
        throw SheetRefused::noSuchEntry($number);
    }

    private function tell(Intake $intake): void
    {
        $this->happenings->tell('sheet', ['id' => $intake->id()]);
    }
}
