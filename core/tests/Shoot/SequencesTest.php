<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Exposed;
use Velvet\Core\Shoot\ClockHint;
use Velvet\Core\Shoot\NaturalBreaks;
use Velvet\Core\Shoot\Sequence;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Shoot\Sequences;

/** What a person would expect, written by hand. */
final class SequencesTest extends TestCase
{
    /**
     * @param list<float>                                     $seconds when frames were taken
     * @param list<array{SequenceKind, int, int, float, int}> $expected kind, first and last position, interval in
     *     seconds, missed
     */
    #[DataProvider('runs')]
    public function testIntervalRunsAndBursts(array $seconds, array $expected): void
    {
        $frames = array_map(
            static fn (float $at): Exposed => new Exposed((int) round($at * 1000), 'A', 9.0, 0.0),
            $seconds,
        );
        self::assertSame(
            $expected,
            array_map(
                static fn (Sequence $run): array => [
                    $run->kind,
                    $run->positions[0],
                    $run->positions[\count($run->positions) - 1],
                    round($run->interval / 1000, 1),
                    \count($run->missed),
                ],
                Sequences::in($frames),
            ),
        );
    }

    /** @return iterable<string, array{list<float>, list<array{SequenceKind, int, int, float, int}>}> */
    public static function runs(): iterable
    {
        $every = static fn (float $interval, int $frames, float $from = 0.0): array => array_map(
            static fn (int $n): float => $from + $n * $interval,
            range(0, $frames - 1),
        );
        yield 'every ten seconds' => [$every(10, 30), [[SequenceKind::Interval, 0, 29, 10.0, 0]]];
        yield 'seven frames are no time-lapse' => [$every(10, 7), []];
        yield 'whole seconds of an interval of 2.5' => [
            array_map(floor(...), $every(2.5, 40)),
            [[SequenceKind::Interval, 0, 39, 2.5, 0]],
        ];
        $jitter = [];
        foreach ($every(30, 40) as $n => $at) {
            $jitter[] = $at + [0.0, 0.5, -0.4, 0.3, -0.6][$n % 5];
        }
        yield 'jitter' => [$jitter, [[SequenceKind::Interval, 0, 39, 30.0, 0]]];
        $missed = $every(20, 30);
        array_splice($missed, 12, 1);
        yield 'one missed' => [$missed, [[SequenceKind::Interval, 0, 28, 20.0, 1]]];
        array_splice($missed, 20, 3);
        yield 'one missed, and three in a row' => [$missed, [[SequenceKind::Interval, 0, 25, 20.0, 4]]];
        yield 'a jump from 20 to 10 seconds' => [
            [...$every(20, 20), ...$every(10, 20, 390)],
            [[SequenceKind::Interval, 0, 19, 20.0, 0], [SequenceKind::Interval, 20, 39, 10.0, 0]],
        ];
        yield 'a jump from 10 to 20 seconds is no row of missed frames' => [
            [...$every(10, 20), ...$every(20, 20, 210)],
            [[SequenceKind::Interval, 0, 19, 10.0, 0], [SequenceKind::Interval, 20, 39, 20.0, 0]],
        ];
        yield 'stray frames at the ends' => [
            [0.0, 47.0, ...$every(15, 20, 130), 500.0, 611.0],
            [[SequenceKind::Interval, 2, 21, 15.0, 0]],
        ];
        yield 'people shooting' => [[0.0, 3.0, 11.0, 12.0, 40.0, 41.0, 90.0, 95.0, 96.0, 130.0, 177.0, 179.0], []];
        yield 'a burst within an evening' => [
            [0.0, 31.0, 60.0, 60.12, 60.24, 60.36, 60.48, 99.0],
            [[SequenceKind::Burst, 2, 6, 0.0, 0]],
        ];
        yield 'two frames are no burst' => [[0.0, 0.2, 60.0], []];
        yield 'eight frames of one second, written without parts' => [
            array_fill(0, 8, 60.0),
            [[SequenceKind::Burst, 0, 7, 0.0, 0]],
        ];
    }

    /**
     * @param list<float|null> $bias
     * @param list<float>      $values
     */
    #[DataProvider('brackets')]
    public function testBrackets(array $bias, array $values, int $count, float $step): void
    {
        $frames = [];
        foreach ($values as $n => $value) {
            $frames[] = new Exposed($n * 700, 'A', $value, $bias[$n] ?? null);
        }
        $found = Sequences::in($frames);
        self::assertSame(
            0 === $count ? [] : [SequenceKind::Bracket],
            array_values(
                array_unique(array_map(static fn (Sequence $run): SequenceKind => $run->kind, $found), \SORT_REGULAR),
            ),
        );
        self::assertSame($count, \count($found[0]->positions ?? []));
        self::assertEqualsWithDelta($step, $found[0]->step ?? 0.0, 0.05);
    }

    /** @return iterable<string, array{list<float|null>, list<float>, int, float}> */
    public static function brackets(): iterable
    {
        yield 'three by bias, in the usual order' => [[0.0, -1.0, 1.0], [9.0, 9.0, 9.0], 3, 1.0];
        yield 'five by bias, two thirds apart' => [
            [0.0, -0.667, 0.667, -1.333, 1.333],
            array_fill(0, 5, 9.0),
            5,
            0.667,
        ];
        yield 'seven by exposure alone' => [[], [9.0, 10.0, 8.0, 11.0, 7.0, 12.0, 6.0], 7, 1.0];
        yield 'three by exposure, two stops' => [[], [9.0, 11.0, 7.0], 3, 2.0];
        yield 'uneven exposures are none' => [[], [9.0, 10.0, 8.3], 0, 0.0];
        yield 'the same exposure is none' => [[0.0, 0.0, 0.0], [9.0, 9.0, 9.0], 0, 0.0];
        yield 'unknown exposures are none' => [[], [], 0, 0.0];
    }

    public function testPausesThatStandOutAreFound(): void
    {
        $at = static fn (int ...$minutes): array => array_map(
            static fn (int $minute): Exposed => new Exposed($minute * 60_000, 'A', null, null),
            array_values($minutes),
        );
        self::assertSame(
            [6 => 176 * 60_000],
            NaturalBreaks::in($at(0, 1, 2, 3, 4, 4, 180, 181, 182, 183, 184, 185)),
            'lunch',
        );
        self::assertSame([], NaturalBreaks::in($at(0, 1, 30, 31, 60, 61, 90, 91)), 'half hours are the rhythm');
        self::assertSame([], NaturalBreaks::in($at(0, 70, 140, 210, 280, 350, 420)), 'and here hours are');
        self::assertSame([], NaturalBreaks::in($at(0, 300)), 'too few to have a rhythm');
    }

    public function testCamerasAreKeptApart(): void
    {
        $frames = [];
        for ($n = 0; $n < 20; ++$n) {
            $frames[] = new Exposed($n * 10_000, 'A', 9.0, 0.0);
            $frames[] = new Exposed($n * 10_000 + 3_300, 'B', 9.0, 0.0);
        }
        self::assertSame(
            [20, 20],
            array_map(static fn (Sequence $run): int => \count($run->positions), Sequences::in($frames)),
        );
        $places = Sequences::places($frames);
        self::assertSame(
            [[1, 1], [2, 1], [1, 2], [2, 20]],
            array_map(static fn (int $at): array => [$places[$at]->run, $places[$at]->number], [0, 1, 2, 39]),
        );
    }

    public function testAClockThatRunsApartIsSeen(): void
    {
        mt_srand(7);
        $moments = [];
        for ($at = 0; $at < 5 * 3600; $at += mt_rand(600, 1500)) {
            $moments[] = $at;
        }
        $camera = static function (int $shift) use ($moments): array {
            $ticks = [];
            foreach ($moments as $moment) {
                for ($n = 0; $n < 4; ++$n) {
                    $ticks[] = 1000 * ($moment + $shift + $n * mt_rand(5, 20));
                }
            }

            return $ticks;
        };
        foreach ([-3480, 3600, 300] as $shift) {
            self::assertEqualsWithDelta(-$shift, ClockHint::between($camera(0), $camera($shift)), 60);
        }
        self::assertNull(ClockHint::between($camera(0), $camera(0)), 'they agree');
        self::assertNull(ClockHint::between(\array_slice($camera(0), 0, 5), $camera(600)), 'too few to tell');
        $elsewhere = array_map(static fn (): int => mt_rand(0, 5 * 3_600_000), range(1, 60));
        self::assertNull(ClockHint::between($camera(0), $elsewhere), 'another event');
    }
}
