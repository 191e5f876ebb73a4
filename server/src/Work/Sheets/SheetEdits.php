<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Shoot\ArrangedEntry;
use Velvet\Core\Shoot\Arrangement;
use Velvet\Core\Shoot\CaptureOrder;
use Velvet\Core\Shoot\Clocks;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\EntryWords;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;
use Velvet\Server\Store\Arrangements;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\SheetClocks;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\SheetSteps;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Work\Keywords\Keywords;

/** What is done on a sheet by hand. Every edit can be undone and done again; all of it is in the database at once. */
final readonly class SheetEdits
{
    private const LONGEST_NAME = 400;
    private const LONGEST_DESCRIPTION = 20_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private SheetSteps $steps,
        private SheetClocks $clocks,
        private CardContents $contents,
        private Sheets $sheets,
        private SheetFrames $frames,
        private Arrangements $arrangements,
        private Happenings $happenings,
        private Keywords $keywords,
    ) {
    }

    /**
     * What an entry is called, of what kind, for whom and on what trip.
     *
     * @param array<string, string> $words members of {@see EntryWords}; the others stay
     *
     * @throws SheetRefused
     */
    public function name(Intake $intake, int $number, array $words): void
    {
        $entry = $this->entry($intake, $number);
        $words = array_map(static fn (string $word): string => mb_substr($word, 0, self::LONGEST_NAME), $words);
        // typing on in one field is one step
        $this->step($intake, \sprintf('name of entry %d', $number), static function () use ($entry, $words): void {
            $entry->say($entry->words()->with($words));
        }, true);
    }

    /** Whether the frames around the time-lapse of an entry go into a folder of their own. */
    public function setStraysAside(Intake $intake, int $number, bool $aside): void
    {
        $entry = $this->entry($intake, $number);
        $label = \sprintf('strays of entry %d %s', $number, $aside ? 'set aside' : 'brought back');
        $this->step($intake, $label, static function () use ($entry, $aside): void {
            $entry->strays = $aside;
        });
    }

    /** What the frames of an entry show. */
    public function describe(Intake $intake, int $number, string $description): void
    {
        $entry = $this->entry($intake, $number);
        $this->step($intake, \sprintf('description of entry %d', $number), static function () use (
            $entry,
            $description,
        ): void {
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

    /**
     * The number of the entry where a frame lies by now: another page may have split or joined since it was seen.
     *
     * @throws SheetRefused
     */
    public function entryWith(Intake $intake, int $frame): int
    {
        $this->sheets->mustBeOpen($intake);

        return $this->arrangements->home($intake, $frame) ?? throw SheetRefused::noSuchFrame($frame);
    }

    /**
     * All frames of spans within the sheet's entries.
     *
     * @param list<list<int>> $spans the ids of the first and the last frame of each
     *
     * @return list<int> ids
     *
     * @throws SheetRefused for a span whose frames do not lie so on the sheet
     */
    public function inSpans(Intake $intake, array $spans): array
    {
        $this->sheets->mustBeOpen($intake);
        $frames = [];
        $places = [] === $spans ? [] : $this->arrangements->places($intake);
        $ofEntry = $at = [];
        foreach ($places as $frame => [$entry]) {
            $at[$frame] = \count($ofEntry[$entry] ?? []);
            $ofEntry[$entry][] = $frame;
        }
        foreach ($spans as $span) {
            [$first, $last] = [$span[0] ?? 0, $span[1] ?? 0];
            $entry = $places[$first][0] ?? null;
            if (null === $entry || $entry !== ($places[$last][0] ?? null) || $at[$first] > $at[$last]) {
                throw SheetRefused::noSuchFrame($first);
            }
            array_push($frames, ...\array_slice($ofEntry[$entry], $at[$first], $at[$last] - $at[$first] + 1));
        }

        return $frames;
    }

    public function shelve(Intake $intake, Shelf $shelf): void
    {
        $this->sheets->mustBeOpen($intake);
        $intake->shelf = $shelf;
        foreach ($intake->entries as $entry) { // a shoot lies on its own shelf
            $entry->intoShoot = $entry->intoShoot?->shelf === $shelf ? $entry->intoShoot : null;
        }
        ++$intake->revision;
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
            \sprintf(1 === \count($frames) ? '%s frame moved' : '%s frames moved', number_format(\count($frames))),
            static fn (Arrangement $now, array $order): Arrangement => $now->move($frames, $number, $order, $day),
        );
    }

    /** @param list<int> $frames */
    public function leaveOut(Intake $intake, array $frames, bool $out): void
    {
        $noun = 1 === \count($frames) ? 'frame' : 'frames';
        $label = \sprintf('%d %s %s', \count($frames), $noun, $out ? 'left out' : 'taken back');
        $this->step($intake, $label, function () use ($intake, $frames, $out): void {
            $this->contents->leaveOut($intake, $frames, $out);
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
            $this->clocks->set($intake, $this->clocks->of($intake->id())->with($camera, $seconds));
            $this->sheets->divide($intake);
        });
    }

    /** @return array{undo: string|null, redo: string|null} what would be undone and done again */
    public function history(Intake $intake): array
    {
        return [
            'undo' => $this->steps->lastLabel($intake),
            'redo' => $this->steps->nextLabel($intake),
        ];
    }

    public function undo(Intake $intake): void
    {
        $this->sheets->mustBeOpen($intake);
        $step = $this->steps->last($intake);
        if (null !== $step) {
            $this->entities->wrapInTransaction(function () use ($intake, $step): void {
                $this->steps->undone($step, $this->snapshot($intake));
                ++$intake->revision;
                $this->restore($intake, $step->snapshot);
            });
            $this->tell($intake);
        }
    }

    public function redo(Intake $intake): void
    {
        $this->sheets->mustBeOpen($intake);
        $step = $this->steps->next($intake);
        if (null !== $step) {
            $this->entities->wrapInTransaction(function () use ($intake, $step): void {
                ++$intake->revision;
                $this->restore($intake, $step->snapshot);
                $this->steps->doneAgain($step);
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
            $last = $goesOn ? $this->steps->lastLabel($intake) : null;
            if ($last !== $label || null !== $this->steps->nextLabel($intake)) {
                $this->steps->add($intake, $label, $this->snapshot($intake, $now));
            }
            $do();
            ++$intake->revision;
            $this->entities->flush();
        });
        $this->tell($intake);
    }

    /** @return array<string, mixed> everything on the sheet that can be edited */
    private function snapshot(Intake $intake, ?Arrangement $now = null): array
    {
        $division = $intake->division();
        if (null === $now) {
            $places = $this->arrangements->places($intake);
            $now = $this->arrangements->of($intake, $places, array_flip(array_keys($places)));
        }

        return [
            'entries' => array_map(
                static fn (ArrangedEntry $entry): array => [
                    'day' => $entry->day,
                    'words' => $entry->words,
                    'shoot' => $entry->shoot,
                    'frames' => $entry->frames,
                ],
                $now->entries,
            ),
            'left_out' => $this->contents->leftOut($intake),
            'style' => $intake->style,
            'divide' => [
                'by' => $division->by->value,
                'day_starts' => $division->boundary->text(),
                'break_after' => $division->breakAfterMinutes,
            ],
            'kinds' => $intake->kinds->value,
            'companions' => $intake->companions,
            'clocks' => (object) $this->clocks->of($intake->id())->seconds,
        ];
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
        $clocksChanged = $clocks !== $this->clocks->of($intake->id())->seconds; // in whatever order
        $this->clocks->set($intake, new Clocks($clocks));
        $out = array_values(array_filter($snapshot['left_out'], is_int(...)));
        $this->contents->leaveOut($intake, array_values(array_diff($this->contents->leftOut($intake), $out)), false);
        $this->contents->leaveOut($intake, $out, true);
        $entries = [];
        foreach ($snapshot['entries'] as $entry) {
            \assert(\is_array($entry) && \is_array($entry['frames']));
            // steps that were kept before entries had keywords hold the words beside the rest
            $entries[] = new ArrangedEntry(
                \is_string($entry['day']) ? Day::fromText($entry['day']) : null,
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

    private function dayOf(Intake $intake, int $id): ?Day
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
        $this->happenings->tell('sheet', ['id' => $intake->id(), 'revision' => $intake->revision]);
    }
}
