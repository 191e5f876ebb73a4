<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\FileKind;
use Velvet\Server\Store\Arrangements;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeSums;
use Velvet\Server\Store\Row;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Intakes\CopyProgress;

/** An intake under way, and what it left behind: the receipt. Both are read from the same rows. */
final readonly class IntakeProgress
{
    public function __construct(
        private IntakeSums $sums,
        private CardClearance $clearance,
        private Arrangements $arrangements,
        private CopyProgress $copy,
    ) {
    }

    /** @return array<string, mixed> */
    public function of(Intake $intake): array
    {
        return $this->sums($intake)
            + ['clearances' => $intake->state->hasReceipt() ? $this->clearances($intake) : []];
    }

    /** @return array<string, mixed> the same without a look at the cards and all copies */
    public function sums(Intake $intake): array
    {
        $skipped = $this->sums->skipped($intake);

        return $this->copy->of($intake) + [
            'started_at' => $intake->startedAt?->format('c'),
            'finished_at' => $intake->finishedAt?->format('c'),
            'seconds' => $intake->seconds,
            'already_filed' => $skipped->int('filed'),
            'twice' => $skipped->int('twice'),
            'left_out' => $skipped->int('left_out'),
            'unreadable' => $skipped->int('unreadable'),
            'halted' => $intake->halted,
            'dng' => $this->dng($intake),
            'failures' => $this->sums->failures($intake),
            'remarks' => $this->sums->remarks($intake),
        ];
    }

    /**
     * @return array{wanted: int, made: int, refused: int, bytes_before: int, bytes_after: int}|null raw files that
     *     become DNG; null where none is to
     */
    public function dng(Intake $intake): ?array
    {
        $sum = $this->sums->dng($intake);

        return 0 === $sum->int('wanted')
            ? null
            : [
                'wanted' => $sum->int('wanted'),
                'made' => $sum->int('made'),
                'refused' => $sum->int('refused'),
                'bytes_before' => $sum->int('before'),
                'bytes_after' => $sum->int('after'),
            ];
    }

    /** @return list<array<string, mixed>> */
    public function entries(Intake $intake): array
    {
        $sums = $this->sums->copiedByEntry($intake);
        $skipped = $this->sums->skippedByEntry($intake);
        $firsts = $this->arrangements->firstFrames($intake);
        $views = [];
        foreach ($intake->entries as $entry) {
            $sum = $sums[$entry->id()] ?? null;
            $out = $skipped[$entry->id()] ?? [];
            $counts = [
                'new' => $sum?->int('frames') ?? 0,
                'filed' => 0,
                'twice' => 0,
                'left_out' => 0,
                'unreadable' => 0,
            ];
            $times = [self::time($sum?->textOrNull('first')), self::time($sum?->textOrNull('last'))];
            foreach ($out as $state => $row) {
                $counts[$state] = $row->int('frames');
                $times[] = self::time($row->textOrNull('first'));
                $times[] = self::time($row->textOrNull('last'));
            }
            $times = array_filter($times, is_string(...));
            $views[] = [
                'number' => $entry->number,
                'frame' => $firsts[$entry->id()] ?? null,
                'day' => $entry->day,
                'name' => $entry->name,
                'kind' => $entry->kind,
                'client' => $entry->client,
                'trip' => $entry->trip,
                'into' => null,
                'shoots' => [],
                'folder' => $entry->folder ?? '',
                'sample' => null === $sum ? null : basename($sum->text('sample')),
                'first' => [] === $times ? null : min($times),
                'last' => [] === $times ? null : max($times),
                'frames' => array_sum($counts),
                'bytes' => $sum?->int('bytes') ?? 0,
                'counts' => $counts,
                'kinds' => null === $sum ? [] : self::kinds($sum),
                'cameras' => [],
                'notes' => [],
                'filed_in' => isset($out['filed']) ? array_values(
                    array_filter($out['filed']->json('filed_in'), is_string(...)),
                ) : [],
                'shoot' => $entry->shoot?->id(),
                'progress' => CopyProgress::ofEntry($sum),
            ];
        }

        return $views;
    }

    /** @return list<array<string, mixed>> */
    public function frames(Intake $intake, int $number, int $offset, int $limit): array
    {
        $views = [];
        foreach ($this->sums->frames($intake, $number, $offset, $limit) as $row) {
            $sources = array_values(array_filter($row->json('sources'), is_string(...)));
            $views[] = [
                'id' => $row->int('frame_position'),
                'position' => $row->int('frame_position'),
                'name' => pathinfo($sources[0] ?? '', \PATHINFO_FILENAME),
                'kinds' => implode(' + ', self::kinds($row)),
                'picture' => $row->textOrNull('picture'),
                'bytes' => $row->int('bytes'),
                'state' => $row->text('state'),
                'from' => $sources,
                'to' => $row->json('targets'),
                'digests' => array_map(
                    static fn (mixed $hex): ?string => \is_string($hex) ? Digest::fromHex($hex)->labelled() : null,
                    $row->json('digests'),
                ),
                'same_as' => '' === $row->text('same_as') ? [] : [$row->text('same_as')],
                'facts' => FactsView::of($row->json('facts')),
                'problems' => array_values(array_unique(array_filter($row->json('problems'), is_string(...)))),
            ];
        }

        return $views;
    }

    /**
     * @return list<array{number: int, frames: list<int>, cameras: list<string>, ticks: list<int>,
     *     brightness: list<float|null>}>
     */
    public function tape(Intake $intake): array
    {
        $tape = [];
        $moments = $this->sums->moments($intake);
        foreach ($intake->entries as $entry) {
            $tape[] = [
                'number' => $entry->number,
                'frames' => [],
                'cameras' => [],
                'ticks' => array_map(
                    static fn (string $at): int => intdiv(ShotTime::fromText($at)?->ticks() ?? 0, 1000),
                    $moments[$entry->id()] ?? [],
                ),
                'brightness' => [],
            ];
        }

        return $tape;
    }

    /**
     * @return list<array{id: int, card: string, cleared: bool, copied: bool, missing: list<string>, left_out: int,
     * files: int, in_two_places: int, housekeeping: int, unknown: int, on_one_drive: int, touched: int}>
     */
    public function clearances(Intake $intake): array
    {
        $all = [];
        foreach ($intake->cards as $card) {
            $clearance = $this->clearance->of($card);
            $all[] = ['id' => $card->id(), 'card' => $card->label] + CardView::clearance($clearance);
        }

        return $all;
    }

    /** @return list<string> */
    private static function kinds(Row $row): array
    {
        return FileKind::inWords(array_map(
            FileKind::from(...),
            array_values(array_filter($row->json('kinds'), is_string(...))),
        ));
    }

    private static function time(?string $databaseTime): ?string
    {
        return null === $databaseTime ? null : ShotTime::fromText($databaseTime)?->text();
    }
}
