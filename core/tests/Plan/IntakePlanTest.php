<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Plan;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\PlannedFrame;
use Velvet\Core\Plan\ShelfFolders;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\InRun;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Style\HouseStyle;

final class IntakePlanTest extends TestCase
{
    use TestTrait;

    public function testNamesEveryNewFrameAndNoOther(): void
    {
        $plan = IntakePlan::of([
            new EntryToFile(1, Day::fromText('2026-05-02'), 'Lantern Regatta', [
                self::frame(1, ['A/T9999.TRW', 'A/T9999.JPG']), self::frame(2, ['A/T0001.JPG'], FrameState::Filed),
                self::frame(3, ['B/T0001.JPG']),
            ]),
        ], self::shelf([]), HouseStyle::standard());
        self::assertSame('2026/2026-05-02 Lantern Regatta', $plan->entries[0]->folder);
        self::assertSame([
            [
                '2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0001.trw',
                '2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0001.jpg',
            ],
            [],
            ['2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0002.jpg'],
        ], array_column($plan->entries[0]->frames, 'to'));
        self::assertSame(30, $plan->bytes());
        self::assertSame('2026-05-02_lantern-regatta_0001.trw', $plan->entries[0]->sample());
    }

    public function testAnEntryNeedsANameWhereThePatternsSayIt(): void
    {
        $entries = [
            new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [self::frame(1, ['a.jpg'])]),
            new EntryToFile(2, Day::fromText('2026-05-02'), ' ', [self::frame(2, ['b.jpg'])]),
            new EntryToFile(3, Day::fromText('2026-05-02'), '', [self::frame(3, ['c.jpg'], FrameState::Filed)]),
            new EntryToFile(
                4,
                Day::fromText('2026-05-02'),
                '',
                [self::frame(4, ['d.jpg'])],
                intoFolder: '2026/2026-05-02 Quay',
            ),
        ];
        self::assertSame([2], IntakePlan::of($entries, self::shelf([]), HouseStyle::standard())->unnamed());
        $byDate = HouseStyle::fromArray(
            [
                'folder' => [[['piece' => 'shoot_day', 'format' => 'yyyy-MM-dd']]],
                'file' => [['piece' => 'original_name']],
            ] + HouseStyle::standard()->toArray(),
        );
        self::assertSame([], IntakePlan::of($entries, self::shelf([]), $byDate)->unnamed());
        self::assertTrue(IntakePlan::of($entries, self::shelf([]), $byDate)->copiesAnything());
        self::assertFalse(IntakePlan::of([$entries[2]], self::shelf([]), $byDate)->copiesAnything());
    }

    public function testRunsGoToFoldersOfTheirOwn(): void
    {
        $style = HouseStyle::fromArray(
            ['subfolders' => ['raw' => 'capture', 'bracket' => 'bracket']] + HouseStyle::standard()->toArray(),
        );
        $inRun = static fn (int $n): InRun => match (true) {
            $n <= 2 => new InRun(SequenceKind::Bracket, 1, $n),
            $n <= 4 => new InRun(SequenceKind::Bracket, 2, $n - 2),
            default => new InRun(SequenceKind::Burst, 1, 1),
        };
        $frames = array_map(
            static fn (int $n): FrameToFile => self::frame($n, ["T000$n.TRW", "T000$n.JPG"], inRun: $inRun($n)),
            range(1, 5),
        );
        $plan = IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', $frames)],
            self::shelf(['2026-05-02_quay_0004.jpg']),
            $style,
        );
        $to = array_map(
            static fn (string $path): string => substr($path, \strlen('2026/2026-05-02 Quay/')),
            array_merge(...array_column($plan->entries[0]->frames, 'to')),
        );
        self::assertSame([
            'capture/bracket 01/2026-05-02_quay_0005.trw', 'bracket 01/2026-05-02_quay_0005.jpg',
            'capture/bracket 01/2026-05-02_quay_0006.trw', 'bracket 01/2026-05-02_quay_0006.jpg',
            'capture/bracket 02/2026-05-02_quay_0007.trw', 'bracket 02/2026-05-02_quay_0007.jpg',
            'capture/bracket 02/2026-05-02_quay_0008.trw', 'bracket 02/2026-05-02_quay_0008.jpg',
            'capture/2026-05-02_quay_0009.trw', '2026-05-02_quay_0009.jpg',
        ], $to);
    }

    public function testTwoEntriesOfOneDayAndNameShareAFolderAndItsCounter(): void
    {
        $plan = IntakePlan::of(
            [
                new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [self::frame(1, ['a.jpg'])]),
                new EntryToFile(2, Day::fromText('2026-05-02'), 'quay', [self::frame(2, ['b.jpg'])]),
            ],
            self::shelf(['2026-05-02_quay_0004.jpg']),
            HouseStyle::standard(),
        );
        self::assertSame(
            ['2026-05-02_quay_0005.jpg', '2026-05-02_quay_0006.jpg'],
            [$plan->entries[0]->sample(), $plan->entries[1]->sample()],
        );
    }

    public function testNamesAreUniqueWithoutRegardToCaseAndTheSameWhenPlannedAgain(): void
    {
        $this->limitTo(40)->forAll(
            Generators::seq(Generators::elements('Quay', 'quay', 'QUAY', '', 'Кай')),
            Generators::choose(1, 6),
        )
            ->then(static function (array $names, int $frames): void {
                $entries = [];
                foreach (array_values($names) as $n => $name) {
                    \assert(\is_string($name));
                    $entries[] = new EntryToFile(
                        $n + 1,
                        Day::fromText('2026-05-0'.(1 + $n % 2)),
                        $name,
                        array_map(
                            static fn (int $i): FrameToFile => self::frame($i, ["f$n-$i.jpg", "f$n-$i.trw"]),
                            range(1, $frames),
                        ),
                    );
                }
                $to = static fn (IntakePlan $plan): array => array_merge(
                    ...array_map(
                        static fn ($entry): array => array_merge(...array_column($entry->frames, 'to')),
                        $plan->entries,
                    ),
                    ...[[]],
                );
                $once = $to(IntakePlan::of($entries, self::shelf([]), HouseStyle::standard()));
                self::assertSame($once, $to(IntakePlan::of($entries, self::shelf([]), HouseStyle::standard())));
                self::assertSameSize($once, array_unique(array_map(PortableName::folded(...), $once)));
            });
    }

    /** Who asks for the plan says how frames were exposed, and no more: the runs are the plan's. */
    public function testRunsAreFoundWhereTheStyleAsksForThem(): void
    {
        $frames = [];
        foreach ([0.0, -2.0, 2.0] as $n => $bias) { // one bracket of three, half a second apart
            $exposed = new Exposed(1000 + 500 * $n, 'Heron 5', 10.0 - $bias, $bias);
            $path = \sprintf('A/T000%d.JPG', $n + 1);
            $frames[] = new FrameToFile(
                $n,
                [new CardFile($path, FileKind::Jpeg, 10, 0)],
                new FrameNaming(null, 'T000'.($n + 1)),
                exposed: $exposed,
            );
        }
        $entry = new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', $frames);
        $asks = HouseStyle::fromArray(
            ['subfolders' => ['bracket' => 'bracket']] + HouseStyle::standard()->toArray(),
        );
        $runs = static fn (HouseStyle $style): array => array_map(
            static fn (PlannedFrame $frame): ?int => $frame->frame->naming->run?->number,
            IntakePlan::of([$entry], self::shelf([]), $style)->entries[0]->frames,
        );
        self::assertSame([1, 2, 3], $runs($asks));
        self::assertSame([null, null, null], $runs(HouseStyle::standard()));
    }

    public function testAJpegAloneEqualsTheJpegOfAPairWhoseRawFileIsThereOnce(): void
    {
        $plan = IntakePlan::of([new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [
            self::withPrints(1, ['A/T0001.TRW' => 'r1', 'A/T0001.JPG' => 'j1']),
            self::withPrints(2, ['B/T0001.JPG' => 'j1']),
        ])], self::shelf([]), HouseStyle::standard());
        [$pair, $alone] = $plan->entries[0]->frames;
        self::assertSame([$pair->to[1]], $alone->sameAs());
    }

    public function testAFrameOfTheOtherSlotsCardIsNamedOnce(): void
    {
        $first = self::withPrints(1, ['A/T0001.TRW' => 'r1', 'A/T0001.JPG' => 'j1']);
        $plan = IntakePlan::of([new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [
            $first, self::withPrints(2, ['B/T0001.TRW' => 'r1', 'B/T0001.JPG' => 'j1']),
            self::withPrints(3, ['B/T0001.JPG' => 'j1']),
            self::withPrints(4, ['B/T0002.TRW' => 'r2', 'B/T0002.JPG' => 'j1']),
            self::withPrints(5, ['B/T0003.JPG' => null]), self::withPrints(6, ['B/T0003.JPG' => null]),
        ])], self::shelf([]), HouseStyle::standard());
        $frames = $plan->entries[0]->frames;
        self::assertSame(
            [FrameState::New, FrameState::Filed, FrameState::Filed, FrameState::New, FrameState::New, FrameState::New],
            array_map(static fn ($frame): FrameState => $frame->state(), $frames),
        );
        self::assertSame($frames[0]->to, $frames[1]->sameAs());
        self::assertSame([$frames[0]->to[1]], $frames[2]->sameAs(), 'the JPEG alone equals the JPEG of the pair');
        self::assertStringEndsWith('_0002.trw', $frames[3]->to[0], 'another raw file makes it another frame');
        self::assertCount(
            2,
            array_unique([...$frames[4]->to, ...$frames[5]->to]),
            'what could not be read is never skipped',
        );
    }

    /** Tries before a time-lapse, and what was taken when it had ended, go into a folder of their own. */
    public function testStraysAroundATimeLapseAreSetAside(): void
    {
        $frames = [];
        foreach ([0, 7, ...range(60, 60 + 11 * 20, 20), 4000] as $n => $second) {
            $frames[] = new FrameToFile(
                $n + 1,
                [new CardFile(\sprintf('A/T%04d.JPG', $n), FileKind::Jpeg, 10, 0)],
                new FrameNaming(null, \sprintf('T%04d', $n)),
                exposed: new Exposed($second * 1000, 'Heron 5', null, null),
            );
        }
        $folders = static fn (bool $aside, FrameToFile ...$frames): array => array_count_values(array_map(
            static fn (PlannedFrame $frame): string => \dirname($frame->to[0]),
            IntakePlan::of(
                [new EntryToFile(1, Day::fromText('2026-05-02'), 'Tide', array_values($frames), straysAside: $aside)],
                self::shelf([]),
                HouseStyle::standard(),
            )->entries[0]->frames,
        ));
        $shoot = '2026/2026-05-02 Tide';
        self::assertSame([$shoot => 15], $folders(false, ...$frames));
        self::assertSame([$shoot.'/strays' => 3, $shoot => 12], $folders(true, ...$frames));
        self::assertSame([$shoot => 12], $folders(true, ...\array_slice($frames, 2, 12)), 'none around it');
        self::assertSame([$shoot => 3], $folders(true, $frames[0], $frames[1], $frames[14]), 'no time-lapse');
        self::assertSame($shoot, HouseStyle::standard()->subfolders->shootOf($shoot.'/strays'));
    }

    /** A raw file and its JPEG as two frames: each has its own number, and a sidecar stays with the raw file. */
    public function testPairsMayBeFramesOfTheirOwn(): void
    {
        $plan = IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [
                self::frame(1, ['A/T0001.TRW', 'A/T0001.JPG', 'A/T0001.xmp']), self::frame(2, ['A/T0002.JPG']),
                self::frame(3, ['A/T0003.TRW']),
            ])],
            self::shelf([]),
            HouseStyle::fromArray([
                'file' => [['piece' => 'counter', 'width' => 3]],
                'take' => ['pairs' => 'apart'],
            ] + HouseStyle::standard()->toArray()),
        );
        self::assertSame(4, $plan->frames());
        $frames = $plan->entries[0]->frames;
        self::assertSame(
            [['001.trw', '002.jpg', '001.xmp'], ['003.jpg'], ['004.trw']],
            array_map(static fn (PlannedFrame $frame): array => array_map(basename(...), $frame->to), $frames),
        );
        self::assertSame([1, 2], [$frames[0]->number, $frames[0]->apartNumber]);
        self::assertSame(['A/T0001.JPG'], array_column($frames[0]->apart, 'path'));
    }

    /** A pattern of their own counts by itself; no two stems are the same all the same. */
    public function testMoviesMayHaveAPatternOfTheirOwn(): void
    {
        $plan = static fn (array $movies): array => array_map(
            static fn (PlannedFrame $frame): string => basename($frame->to[0]),
            IntakePlan::of(
                [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [
                    self::frame(1, ['A/T0001.JPG']), self::frame(2, ['A/T0002.MP4']), self::frame(3, ['A/T0003.JPG']),
                    self::frame(4, ['A/T0004.WAV']),
                ])],
                self::shelf([]),
                HouseStyle::fromArray([
                    'file' => [['piece' => 'shoot_name'], ['piece' => 'counter', 'width' => 3]],
                    'movie_file' => $movies,
                ] + HouseStyle::standard()->toArray()),
            )->entries[0]->frames,
        );
        self::assertSame(
            ['Quay001.jpg', 'clip-1.mp4', 'Quay002.jpg', 'clip-2.wav'],
            $plan([['piece' => 'text', 'text' => 'clip-'], ['piece' => 'counter', 'width' => 1]]),
        );
        self::assertSame(
            ['Quay001.jpg', 'Quay002.mp4', 'Quay003.jpg', 'Quay004.wav'],
            $plan([['piece' => 'shoot_name'], ['piece' => 'counter', 'width' => 3]]),
        );
    }

    /** Common practice: a camera with two slots writes raw files to one card and JPEGs to the other, under one name. */
    public function testRawHereAndJpegThereAreOneFrame(): void
    {
        $frame = static fn (
            int $id,
            string $path,
            string $at,
            string $serial = 'TO5-204417',
        ): FrameToFile => new FrameToFile(
            $id,
            [new CardFile($path, FileKind::ofName($path), 10, 0)],
            new FrameNaming(
                ShotTime::fromText($at),
                pathinfo($path, \PATHINFO_FILENAME),
                camera: 'Heron 5',
                serial: $serial,
            ),
        );
        $at = '2026-05-02T19:31:40.500';
        $plan = IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [
                $frame(1, 'A/T0001.TRW', $at), $frame(2, 'B/t0001.jpg', $at), $frame(3, 'C/T0001.HIF', $at),
                $frame(4, 'D/T0001.TRW', $at), $frame(5, 'E/T0002.JPG', $at),
                $frame(6, 'F/T0001.HEIC', '2026-05-02T19:31:41'), $frame(7, 'G/T0001.PNG', $at, 'TO5-000001'),
            ])],
            self::shelf([]),
            HouseStyle::standard(),
        );
        self::assertSame(
            [
                '1 ' => '0001.trw', '2 with 1' => '0001.jpg', '3 with 1' => '0001.hif', '4 ' => '0002.trw',
                '5 ' => '0003.jpg', '6 ' => '0004.heic', '7 ' => '0005.png',
            ],
            array_combine(
                array_map(static fn (PlannedFrame $planned): string => $planned->frame->id.' '.(
                    null === $planned->filedWith ? '' : 'with '.$planned->filedWith
                ), $plan->entries[0]->frames),
                array_map(static fn (PlannedFrame $planned): string => substr($planned->to[0], -8 - (
                    str_ends_with($planned->to[0], 'heic') ? 1 : 0
                )), $plan->entries[0]->frames),
            ),
        );
    }

    public function testARepairedCopyKeepsItsNameAndNoOtherGetsIt(): void
    {
        $lost = '2026/2026-05-02 Quay/2026-05-02_quay_0001.jpg';
        $repair = new FrameToFile(
            2,
            [new CardFile('A/T0001.JPG', FileKind::Jpeg, 10, 0), new CardFile('A/T0001.TRW', FileKind::Raw, 10, 0)],
            new FrameNaming(null, 'T0001'),
            repairs: [$lost, null],
        );
        $plan = IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [self::frame(1, ['A/T0000.JPG']), $repair])],
            self::shelf([]),
            HouseStyle::standard(),
        );
        [$new, $repaired] = $plan->entries[0]->frames;
        self::assertStringEndsWith('_0002.jpg', $new->to[0]);
        self::assertSame([$lost, '2026/2026-05-02 Quay/2026-05-02_quay_0003.trw'], $repaired->to);
        self::assertSame([false, true], [$new->repairs(), $repaired->repairs()]);
    }

    /** Names without a counter, from two cards: `-2` is what another frame gets behind its name. */
    public function testThePiecesOfAMovieTakeNoOtherFramesName(): void
    {
        $style = HouseStyle::fromArray(
            ['file' => [['piece' => 'original_name']]] + HouseStyle::standard()->toArray(),
        );
        $frames = [
            self::frame(1, ['A/GX010012.MP4', 'A/GX020012.MP4']), self::frame(2, ['B/GX010012.MP4']),
            self::frame(3, ['C/GX010012.MP4']),
        ];
        $shelf = self::shelf(['GX010012-3.2.mp4']);
        $plan = IntakePlan::of([new EntryToFile(1, null, 'Quay', $frames)], $shelf, $style);
        self::assertSame(
            ['GX010012.mp4', 'GX010012.2.mp4', 'GX010012-2.mp4', 'GX010012-4.mp4'],
            array_map(basename(...), array_merge(...array_column($plan->entries[0]->frames, 'to'))),
        );
    }

    /** @param non-empty-array<string, string|null> $files fingerprints by path */
    private static function withPrints(int $id, array $files): FrameToFile
    {
        $frame = self::frame($id, array_keys($files));

        return new FrameToFile($id, $frame->files, $frame->naming, fingerprints: array_values($files));
    }

    /** @param non-empty-list<string> $paths */
    private static function frame(
        int $id,
        array $paths,
        FrameState $state = FrameState::New,
        ?InRun $inRun = null,
    ): FrameToFile {
        return new FrameToFile(
            $id,
            array_map(
                static fn (string $path): CardFile => new CardFile($path, FileKind::ofName($path), 10, 0),
                $paths,
            ),
            new FrameNaming(null, pathinfo($paths[0], \PATHINFO_FILENAME), run: $inRun),
            $state,
        );
    }

    /** @param list<string> $names */
    private static function shelf(array $names): ShelfFolders
    {
        return new class($names) implements ShelfFolders {
            /** @param list<string> $names */
            public function __construct(private readonly array $names)
            {
            }

            public function namesIn(string $folder): array
            {
                return $this->names;
            }
        };
    }
}
