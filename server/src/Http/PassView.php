<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\Likeness;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Shoot\Alikes;
use Velvet\Core\Shoot\Sequence;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Shoot\Sequences;
use Velvet\Core\Shoot\Sharpest;
use Velvet\Server\Store\Marks;
use Velvet\Server\Store\MeasuredPictures;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Metadata\ShootMetadata;

/** A shoot as the first look goes through it. */
final readonly class PassView
{
    public function __construct(
        private Shoots $shoots,
        private ShootMetadata $metadata,
        private Keywords $keywords,
        private Marks $marks,
    ) {
    }

    /** @return array<string, mixed> */
    public function of(int $shoot): array
    {
        $turn = $this->shoots->turn($shoot); // before the frames: what it numbers is in them, and maybe more
        $frames = $this->shoots->judged($shoot);
        $exposed = array_map(static fn (Row $row): Exposed => new Exposed(
            $row->intOrNull('ticks'),
            $row->text('camera'),
            Exposed::value($row->floatOrNull('seconds'), $row->floatOrNull('f_number'), $row->intOrNull('iso')),
            $row->floatOrNull('bias'),
        ), $frames);

        $used = array_values(array_unique(array_merge([], ...array_map(self::keywords(...), $frames))));
        $tree = $this->keywords->about($used);
        $facets = new PassFacets();
        $beside = $this->marks->inShoot($shoot);

        return [
            'frames' => array_map(static fn (Row $row): array => [
                'id' => $row->int('id'),
                'picture' => $row->textOrNull('picture'),
                'verdict' => $row->text('verdict'),
                'stars' => $row->intOrNull('rating'),
                'by' => $row->textOrNull('judged_by'),
                'beside' => $beside[$row->int('id')] ?? [],
                'tabs' => $row->ints('tabs'),
                'file_stars' => $row->intOrNull('own_rating'),
                'intakes' => $row->ints('intakes'),
                'seconds' => null === $row->intOrNull('ticks') ? null : $row->int('ticks') / 1000,
                'facets' => $facets->of([
                    ...array_map(
                        static fn (string $kind): array => ['kind', $kind],
                        FileKind::inWords(array_map(
                            FileKind::from(...),
                            array_values(array_filter($row->json('kinds'), is_string(...))),
                        )),
                    ),
                    ['camera', $row->textOrNull('model') ?? $row->textOrNull('make')],
                    ['lens', $row->textOrNull('lens')],
                    ...array_map(
                        static fn (int $id): array => ['keyword', $tree->path($id)->text()],
                        self::keywords($row),
                    ),
                    ...array_map(static fn (string $hint): array => ['hint', $hint], self::hints($row)),
                ]),
            ], $frames),
            'facets' => $facets->all(),
            'groups' => self::groups(Sequences::in($exposed), $frames),
            'turn' => $turn,
        ] + $this->metadata->history($shoot);
    }

    /** @return list<int> ids */
    private static function keywords(Row $row): array
    {
        return array_values(array_filter($row->json('keywords'), is_int(...)));
    }

    /** @return list<string> what its picture makes one look at twice */
    private static function hints(Row $row): array
    {
        $measures = MeasuredPictures::of($row);

        return null === $measures ? [] : array_keys(array_filter([
            'blurred' => $measures->looksBlurred(),
            'black' => $measures->looksBlack(),
            'blown out' => $measures->looksBlownOut(),
        ]));
    }

    /**
     * @param list<Sequence> $sequences
     * @param list<Row>      $frames
     *
     * @return list<array{kind: string, frames: list<int>, sharpest: int|null}>
     */
    private static function groups(array $sequences, array $frames): array
    {
        $groups = array_map(static fn (Sequence $run): array => self::group(match ($run->kind) {
            SequenceKind::Burst => 'burst',
            SequenceKind::Bracket => 'bracket',
            SequenceKind::Interval => 'time_lapse',
        }, $run->positions, $frames), $sequences);
        $grouped = array_fill_keys(
            array_merge([], ...array_map(static fn (Sequence $run): array => $run->positions, $sequences)),
            true,
        );
        $likenesses = [];
        foreach ($frames as $position => $row) {
            $hex = isset($grouped[$position]) ? '' : $row->textOrNull('likeness') ?? '';
            $likenesses[] = '' === $hex ? null : Likeness::fromHex($hex);
        }
        $tries = Alikes::in(
            $likenesses,
            array_map(static fn (Row $row): ?int => $row->intOrNull('ticks'), $frames),
            array_map(static fn (Row $row): string => $row->text('camera'), $frames),
        );

        return [
            ...$groups,
            ...array_map(static fn (array $positions): array => self::group('alike', $positions, $frames), $tries),
        ];
    }

    /**
     * @param list<int> $positions
     * @param list<Row> $frames
     *
     * @return array{kind: string, frames: list<int>, sharpest: int|null}
     */
    private static function group(string $kind, array $positions, array $frames): array
    {
        $sharpness = $inFocus = [];
        foreach ($positions as $position) {
            $id = $frames[$position]->int('id');
            $sharpness[$id] = $frames[$position]->floatOrNull('sharpness');
            $inFocus[$id] = $frames[$position]->floatOrNull('in_focus');
        }

        return [
            'kind' => $kind,
            'frames' => array_keys($sharpness),
            'sharpest' => \in_array($kind, ['burst', 'alike'], true) ? Sharpest::of($sharpness, $inFocus) : null,
        ];
    }
}
