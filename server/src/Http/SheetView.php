<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Psr\Clock\ClockInterface;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Naming\PieceKind;
use Velvet\Core\Plan\EntryNotes;
use Velvet\Core\Plan\FrameLook;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\PlannedEntry;
use Velvet\Core\Plan\PlannedFrame;
use Velvet\Core\Plan\PlannedMetadata;
use Velvet\Core\Plan\Readiness;
use Velvet\Core\Plan\Room;
use Velvet\Core\Shoot\BelievableTimes;
use Velvet\Core\Shoot\ClockHint;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\MarginNote;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Pairs;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeSums;
use Velvet\Server\Store\SheetClocks;
use Velvet\Server\Store\SheetFrame;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;

/** A sheet as the browser shows it: while it is planned from its plan, afterwards from what became of it. */
final readonly class SheetView
{
    /** Problems that mean a file may be damaged, as opposed to merely undated. */
    public function __construct(
        private Sheets $sheets,
        private SheetFrames $frames,
        private KeptPlans $kept,
        private SheetClocks $clocks,
        private SheetEdits $edits,
        private IntakeProgress $progress,
        private IntakeSums $sums,
        private Shoots $shoots,
        private Keywords $keywords,
        private DriveTable $drives,
        private ClockInterface $clock,
    ) {
    }

    /** @return array<string, mixed> */
    public function of(Intake $intake): array
    {
        $plan = null;
        if ($intake->state->isPlanned()) {
            $plan = $this->kept->of($intake, 'sheet', fn (): array => $this->planned($intake));
            ['entries' => $entries, 'cameras' => $cameras, 'bytes' => $bytes, 'takes' => $takes] = $plan;
        } else {
            $cameras = [];
            $entries = $this->progress->entries($intake);
            $takes = $bytes = $this->sums->bytesToCopy($intake);
        }
        $style = $this->sheets->styleOf($intake);
        $rooms = $this->rooms($intake, $takes);

        return [
            'id' => $intake->id(),
            'revision' => $intake->revision,
            'state' => $intake->state->value,
            'opened_at' => $intake->openedAt->format('c'),
            'style' => $intake->style,
            'divide' => [
                'by' => $intake->divideBy->value,
                'day_starts' => $intake->dayStarts,
                'break_after' => $intake->breakAfter,
            ],
            'rights_sets' => array_map(strval(...), array_keys($style->metadata->rights)),
            'asks' => array_values(
                array_map(
                    static fn (PieceKind $kind): string => $kind->value,
                    array_filter(
                        [PieceKind::ShootKind, PieceKind::Client, PieceKind::Trip],
                        $style->says(...),
                    ),
                ),
            ),
            'dng' => $style->dng->value,
            'kinds' => $intake->kinds->value,
            'companions' => $intake->companions,
            'cameras' => $cameras,
            'history' => $intake->state->isPlanned()
                ? $this->edits->history($intake)
                : ['undo' => null, 'redo' => null],
            'cards' => array_values(
                $intake->cards->map(
                    static fn (Card $card): array => [
                        'id' => $card->id(),
                        'label' => $card->label,
                        'present' => $card->present,
                        'frames' => $card->frames,
                        'problems' => array_column($card->problems, 'text'),
                    ],
                )->toArray(),
            ),
            'shelf' => null === $intake->shelf ? null : [
                'id' => $intake->shelf->id(),
                'name' => $intake->shelf->name,
                'root' => $intake->shelf->root,
                'twin_root' => $intake->shelf->twinRoot,
            ],
            'same_drive' => null !== $intake->shelf
                && \count($intake->shelf->roots()) > 1
                && !Drives::at($this->drives, $intake->shelf->roots())->areApart(),
            'second_digest' => $style->copies->second?->value,
            'rooms' => array_map(static fn (Room $room, int $i): array => [
                'role' => 0 === $i ? 'shelf' : 'twin',
                'root' => $room->path,
                'free' => $room->free,
                'missing' => $room->missing(),
            ], $rooms, array_keys($rooms)),
            'entries' => $entries,
            'bytes' => $bytes,
            'first_looks' => null === $plan
                ? array_map(ShootsView::firstLook(...), $this->shoots->openOf($intake->id()))
                : [],
            'fresh' => $plan['fresh'] ?? 0,
            'loose' => $plan['loose'] ?? 0,
            'takes' => $takes,
            'waits_for' => ($plan['ready'] ?? null)?->waitsFor($rooms, self::cardsOut($intake)),
            'waits_for_name' => ($plan['ready'] ?? null)?->waitsForNameOf($rooms, self::cardsOut($intake)),
            'progress' => null !== $plan ? null : $this->progress->of($intake),
        ];
    }

    /**
     * What the sheet shows of its plan.
     *
     * @return array{entries: list<array<string, mixed>>, cameras: list<array<string, mixed>>, bytes: int, takes: int,
     *     fresh: int, loose: int, ready: Readiness}
     */
    private function planned(Intake $intake): array
    {
        $frames = $this->frames->ofIntake($intake->id());
        $plan = $this->sheets->plan($intake, $frames);

        return [
            'entries' => $this->plannedEntries($intake, $plan, $frames),
            'cameras' => $this->cameras($intake, $frames),
            'bytes' => $plan->bytes(),
            'takes' => $plan->room(),
            'fresh' => $plan->frames(),
            'loose' => $plan->looseFiles(),
            'ready' => Readiness::of($plan, $this->sheets->isToBeEntered($intake, $plan)),
        ];
    }

    /**
     * All frames that can be shown, as windows show them, but for what was read in their files.
     *
     * @return array<int, array<int, array<string, mixed>>> by the number of their entry, and by their ids
     */
    private function plannedFrames(Intake $intake): array
    {
        $frames = $this->frames->ofIntake($intake->id());
        $plan = $this->sheets->plan($intake, $frames);
        $pairs = $this->sheets->styleOf($intake)->pairs;
        $shown = [];
        foreach ($intake->entries as $i => $entry) {
            $shown[$entry->number] = [];
            foreach (self::withoutLoose($frames[$entry->id()] ?? []) as $at => $frame) {
                $planned = $plan->entries[$i]->frames[$at];
                $shown[$entry->number][$frame->frame->id] = self::frame($frame, $planned, $at, $pairs);
            }
        }

        return $shown;
    }

    /**
     * @param array<int, array<string, mixed>> $frames of {@see self::plannedFrames()}, by their ids
     *
     * @return list<array<string, mixed>> with what was read in their files
     */
    private function withFacts(array $frames): array
    {
        $facts = $this->frames->facts(array_keys($frames));

        return array_map(
            static fn (array $frame, int $id): array => $frame + ['facts' => FactsView::of($facts[$id] ?? [])],
            $frames,
            array_keys($frames),
        );
    }

    /**
     * A window of an entry's frames.
     *
     * @return list<array<string, mixed>>
     */
    public function framesOf(Intake $intake, int $number, int $offset, int $limit): array
    {
        if (!$intake->state->isPlanned()) {
            return $this->progress->frames($intake, $number, $offset, $limit);
        }
        $frames = $this->kept->of($intake, 'frames', fn (): array => $this->plannedFrames($intake));

        return $this->withFacts(
            \array_slice($frames[$number] ?? throw SheetRefused::noSuchEntry($number), $offset, $limit, true),
        );
    }

    /**
     * @param list<int> $ids others than the sheet's are passed over
     *
     * @return list<array<string, mixed>> in the order of the sheet
     *
     * @throws SheetRefused
     */
    public function framesById(Intake $intake, array $ids): array
    {
        $this->sheets->mustBeOpen($intake);
        $frames = $this->kept->of($intake, 'frames', fn (): array => $this->plannedFrames($intake));

        return $this->withFacts(array_intersect_key(array_replace([], ...array_values($frames)), array_flip($ids)));
    }

    /**
     * Groups of an entry's frames that can be selected at one stroke.
     *
     * @return list<array{by: string, of: string, positions: list<int>}>
     *
     * @throws SheetRefused
     */
    public function groups(Intake $intake, int $number): array
    {
        $this->sheets->mustBeOpen($intake);

        return FrameGroups::in(...$this->entryOf($intake, $number), boundary: DayBoundary::at($intake->dayStarts));
    }

    /**
     * What the files of an entry's first new frame will say.
     *
     * @return array{frame: string|null, says: array{texts: list<array{field: string, text: string}>,
     *     keywords: list<string>}|null}
     *
     * @throws SheetRefused
     */
    public function says(Intake $intake, int $number): array
    {
        $this->sheets->mustBeOpen($intake);
        $style = $this->sheets->styleOf($intake);
        [$frames, $planned] = $this->entryOf($intake, $number);
        foreach ($planned->frames as $i => $frame) {
            if (FrameState::New === $frame->state()) {
                $catalogue = $this->keywords->about([], PlannedMetadata::mayGive($style, $planned->entry));
                $metadata = (new PlannedMetadata($style, $catalogue))->of(
                    $planned->entry,
                    $frame->frame->naming,
                    basename($frame->along[0]->path),
                    0 !== ($this->clocks->of($intake->id())->seconds[$frames[$i]->camera] ?? 0),
                );

                return [
                    'frame' => $frames[$i]->frame->files[0]->stem(),
                    'says' => $metadata->isEmpty() ? null : $metadata->toArray(),
                ];
            }
        }

        return ['frame' => null, 'says' => null];
    }

    /**
     * @return array{list<SheetFrame>, PlannedEntry}
     *
     * @throws SheetRefused
     */
    private function entryOf(Intake $intake, int $number): array
    {
        $frames = $this->frames->ofIntake($intake->id());
        $plan = $this->sheets->plan($intake, $frames);
        foreach ($intake->entries as $i => $entry) {
            if ($entry->number === $number) {
                $all = $plan->entries[$i];
                $frames = self::withoutLoose($frames[$entry->id()] ?? []);

                return [$frames, new PlannedEntry(
                    $all->entry,
                    $all->folder,
                    \array_slice($all->frames, 0, \count($frames)), // they come last
                )];
            }
        }
        throw SheetRefused::noSuchEntry($number);
    }

    /**
     * When each frame was taken, in seconds on the wall clock, and how bright it is, by entry; null for what is not
     * known.
     *
     * @return list<array{number: int, frames: list<int>, cameras: list<string>, ticks: list<int|null>,
     *     brightness: list<float|null>}>
     */
    public function tape(Intake $intake): array
    {
        if (!$intake->state->isPlanned()) {
            return $this->progress->tape($intake);
        }
        $tape = [];
        $ofEntries = $this->frames->tape($intake);
        foreach ($intake->entries as $entry) {
            $tape[] = ['number' => $entry->number] + $ofEntries[$entry->id()];
        }

        return $tape;
    }

    /**
     * @param array<int, list<SheetFrame>> $frames
     *
     * @return list<array<string, mixed>>
     */
    private function plannedEntries(Intake $intake, IntakePlan $plan, array $frames): array
    {
        $views = [];
        $offers = $this->shoots->offeredTo($intake);
        $lastIntake = $this->shoots->lastDayOfCardsLike($intake);
        $boundary = DayBoundary::at($intake->dayStarts);
        $times = BelievableTimes::on(Day::fromText($this->clock->now()->format('Y-m-d')));
        $style = $this->sheets->styleOf($intake);
        foreach ($intake->entries as $i => $entry) {
            $own = $frames[$entry->id()] ?? [];
            $looks = array_map(static fn (SheetFrame $frame): FrameLook => $frame->look(), $own);
            $views[] = self::entry(
                $plan->entries[$i],
                $own,
                $entry,
                $offers[$entry->id()] ?? [],
                EntryNotes::of($plan->entries[$i], $looks, $boundary, $times, $lastIntake),
            ) + ['owner' => self::owner($style, $plan->entries[$i])];
        }

        return $views;
    }

    /**
     * @param list<SheetFrame>                                   $frames
     * @param list<array{id: int, name: string, folder: string}> $offers
     * @param list<MarginNote>                                   $notes
     *
     * @return array<string, mixed>
     */
    private static function entry(
        PlannedEntry $planned,
        array $frames,
        Entry $entry,
        array $offers,
        array $notes,
    ): array {
        $counts = array_fill_keys(['new', 'filed', 'twice', 'left_out', 'unreadable'], 0);
        $kinds = $cameras = [];
        $bytes = $raws = 0;
        $first = $last = $leading = null;
        foreach ($frames as $position => $frame) {
            $bytes += $frame->bytes();
            if ($frame->frame->isLoose()) {
                continue;
            }
            $state = [] === $planned->frames[$position]->equals ? $planned->frames[$position]->state()->value : 'twice';
            $counts[$state] = ($counts[$state] ?? 0) + 1;
            $kinds[$frame->kinds()] = true;
            $cameras[$frame->camera] = true;
            foreach ($frame->frame->files as $file) {
                if (FileKind::Raw === $file->kind) {
                    ++$raws;
                    break;
                }
            }
            $first ??= $frame->capturedAt()?->text();
            $last = $frame->capturedAt()?->text() ?? $last;
            $leading ??= $frame->frame->id;
        }

        return [
            'number' => $planned->entry->number,
            'frame' => $leading ?? ($frames[0] ?? null)?->frame->id,
            'day' => $planned->entry->day,
            'name' => $planned->entry->name,
            'kind' => $planned->entry->kind,
            'client' => $planned->entry->client,
            'trip' => $planned->entry->trip,
            'description' => $planned->entry->description,
            'rights' => $planned->entry->rights,
            'dng' => $planned->entry->dng?->value,
            'raws' => $raws,
            'keywords' => array_map(static fn (KeywordPath $path): string => $path->text(), $planned->entry->keywords),
            'into' => null === $entry->intoShoot ? null : [
                'id' => $entry->intoShoot->id(),
                'name' => $entry->intoShoot->name,
                'folder' => $entry->intoShoot->folder,
            ],
            'shoots' => $offers,
            'folder' => $planned->folder,
            'sample' => $planned->copiesLooseFilesOnly() ? null : $planned->sample(),
            'first' => $first,
            'last' => $last,
            'frames' => array_sum($counts),
            'bytes' => $bytes,
            'counts' => $counts,
            'kinds' => array_keys($kinds),
            'cameras' => array_values(
                array_filter(
                    array_map(strval(...), array_keys($cameras)),
                    static fn (string $camera): bool => '' !== $camera,
                ),
            ),
            'notes' => array_map(self::note(...), $notes),
            'filed_in' => self::filedIn(self::withoutLoose($frames)),
            'progress' => null,
        ];
    }

    /**
     * @param list<SheetFrame> $frames
     *
     * @return list<SheetFrame> without what belongs to no frame, which comes behind them and is told by itself
     */
    private static function withoutLoose(array $frames): array
    {
        return array_values(array_filter($frames, static fn (SheetFrame $frame): bool => !$frame->frame->isLoose()));
    }

    /** Whose the frames are, in one line: the copyright notice, else who made them; empty where nothing is said. */
    private static function owner(HouseStyle $style, PlannedEntry $planned): string
    {
        foreach ($planned->frames as $frame) {
            if (FrameState::New === $frame->state()) {
                $metadata = new PlannedMetadata($style, new KeywordTree());
                $texts = $metadata->texts($planned->entry, $frame->frame->naming);

                return $texts[Field::Copyright->value]
                    ?? $texts[Field::CreditLine->value]
                    ?? $texts[Field::Creator->value]
                    ?? '';
            }
        }

        return '';
    }

    /**
     * @param list<SheetFrame> $frames
     *
     * @return list<string> the folders in which those that are filed already lie
     */
    private static function filedIn(array $frames): array
    {
        $folders = [];
        foreach ($frames as $frame) {
            $sameAs = FrameState::Filed === $frame->frame->state ? $frame->frame->sameAs : [];
            foreach (array_filter($sameAs, is_string(...)) as $path) {
                $folders[\dirname($path)] = true;
            }
        }

        return array_map(strval(...), array_keys($folders));
    }

    /**
     * The cameras on the sheet, the busiest first, with what seems to be wrong with their clocks.
     *
     * @param array<int, list<SheetFrame>> $frames
     *
     * @return list<array{camera: string, name: string, frames: int, seconds: int, hint: int|null}>
     */
    private function cameras(Intake $intake, array $frames): array
    {
        $ticks = $names = [];
        foreach ($frames as $entry) {
            foreach ($entry as $frame) {
                if ('' !== $frame->camera && null !== $frame->frame->exposed?->ticks) {
                    $ticks[$frame->camera][] = $frame->frame->exposed->ticks;
                    $names[$frame->camera] = $frame->frame->naming->camera;
                }
            }
        }
        uasort($ticks, static fn (array $a, array $b): int => \count($b) <=> \count($a));
        $seconds = $this->clocks->of($intake->id())->seconds;
        $cameras = [];
        $first = null;
        foreach ($ticks as $camera => $own) {
            $cameras[] = [
                'camera' => $camera,
                'name' => $names[$camera],
                'frames' => \count($own),
                'seconds' => $seconds[$camera] ?? 0,
                'hint' => null === $first ? null : ClockHint::between($first, $own),
            ];
            $first ??= $own;
        }

        return $cameras;
    }

    /** @return array<string, mixed> */
    private static function note(MarginNote $note): array
    {
        return [
            'code' => $note->code, 'title' => $note->title, 'text' => $note->text,
            'spans' => self::spans($note->positions), 'asks' => $note->asksForAttention, 'offers' => $note->offers,
            'missed' => $note->missed,
        ];
    }

    /**
     * Thousands of frames in a row are told in a few bytes.
     *
     * @param list<int> $positions in order
     *
     * @return list<array{first: int, count: int}>
     */
    private static function spans(array $positions): array
    {
        $counts = [];
        $first = $next = -1;
        foreach ($positions as $position) {
            if ($position !== $next) {
                $first = $position;
            }
            $counts[$first] = ($counts[$first] ?? 0) + 1;
            $next = $position + 1;
        }

        return array_map(
            static fn (int $first, int $count): array => ['first' => $first, 'count' => $count],
            array_keys($counts),
            $counts,
        );
    }

    /** @return array<string, mixed> */
    private static function frame(SheetFrame $frame, PlannedFrame $planned, int $position, Pairs $pairs): array
    {
        return [
            'id' => $frame->frame->id,
            'position' => $position,
            'name' => $frame->frame->files[0]->stem(),
            'kinds' => $frame->kinds(),
            'picture' => $frame->picture($pairs),
            'bytes' => $frame->bytes(),
            'state' => $planned->state()->value,
            'from' => array_map(
                static fn (CardFile $file): string => $file->path,
                [] === $planned->along ? $frame->frame->files : $planned->along,
            ),
            'to' => $planned->filedAs,
            'same_as' => $planned->sameAs(),
            'problems' => array_column($frame->problems(), 'text'),
        ];
    }

    /** @return list<Room> of the shelf, and of its twin behind it */
    private function rooms(Intake $intake, int $bytes): array
    {
        $drives = $intake->shelf?->drives($this->drives);

        return array_map(
            static fn (string $root): Room => Room::on($root, $bytes, true === $drives?->has($root)),
            $intake->shelf?->roots() ?? [],
        );
    }

    /** @return list<string> labels */
    private static function cardsOut(Intake $intake): array
    {
        $out = [];
        foreach ($intake->cards as $card) {
            if (!$card->present) {
                $out[] = $card->label;
            }
        }

        return $out;
    }
}
