<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Shoot\CaptureOrder;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\FrameGroup;
use Velvet\Core\Shoot\NotATimeOfDay;
use Velvet\Core\Shoot\TimedFrame;

final class DivisionTest extends TestCase
{
    use TestTrait;

    #[DataProvider('days')]
    public function testTheDayOfAShot(string $boundary, string $shot, string $day): void
    {
        $time = ShotTime::fromText($shot);
        self::assertNotNull($time);
        self::assertSame($day, DayBoundary::at($boundary)->dayOf($time)->text());
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function days(): iterable
    {
        yield 'by day' => ['04:00', '2026-05-02T12:00:00', '2026-05-02'];
        yield 'a wedding runs past midnight' => ['04:00', '2026-05-03T01:12:00', '2026-05-02'];
        yield 'the last second' => ['04:00', '2026-05-03T03:59:59.999', '2026-05-02'];
        yield 'the first second' => ['04:00', '2026-05-03T04:00:00', '2026-05-03'];
        yield 'midnight' => ['00:00', '2026-05-03T00:00:00', '2026-05-03'];
        yield 'New Year’s night' => ['04:00', '2027-01-01T02:30:00', '2026-12-31'];
        yield 'leap day' => ['04:00', '2028-03-01T01:00:00', '2028-02-29'];
        yield 'the clocks go forward: a wall clock does not care' => ['04:00', '2026-03-29T03:30:00', '2026-03-28'];
    }

    #[DataProvider('noTimes')]
    public function testABoundaryMustBeATime(string $text): void
    {
        $this->expectExceptionObject(NotATimeOfDay::of($text));
        DayBoundary::at($text);
    }

    /** @return list<array{string}> */
    public static function noTimes(): array
    {
        return [['24:00'], ['4'], ['04:60'], ['noon'], ['-1:00'], ['']];
    }

    public function testDividesByDayAndUndatedFramesComeLast(): void
    {
        self::assertSame(
            ['2026-05-02' => [1, 2, 4], '2026-05-03' => [3], '' => [5]],
            self::ids(
                (new Division(DayBoundary::at('04:00')))->divide(
                    self::frames(
                        [
                            1 => '2026-05-02T10:00:00',
                            2 => '2026-05-02T23:00:00',
                            3 => '2026-05-03T09:00:00',
                            4 => '2026-05-03T01:00:00',
                            5 => null,
                        ],
                    ),
                ),
            ),
        );
    }

    public function testALongPauseDivides(): void
    {
        $frames = self::frames([1 => '2026-05-02T10:00:00', 2 => '2026-05-02T13:59:59', 3 => '2026-05-02T17:59:59']);
        self::assertCount(2, (new Division(DayBoundary::at('04:00'), 240))->divide($frames));
        self::assertCount(1, (new Division(DayBoundary::at('04:00')))->divide($frames));
    }

    public function testOrderIsTimeThenPartsOfASecondThenCameraThenPath(): void
    {
        $second = ShotTime::fromExif('2026:05:02 10:00:00', '200');
        $first = ShotTime::fromExif('2026:05:02 10:00:00', '100');
        $frames = [
            new TimedFrame(4, $second, 'B', 'a'), new TimedFrame(3, $second, 'A', 'DCIM/100/T0010.JPG'),
            new TimedFrame(2, $second, 'A', 'DCIM/100/T0009.JPG'),
            new TimedFrame(5, null, 'A', 'a'), new TimedFrame(1, $first, 'Z', 'z'),
        ];
        self::assertSame([1, 2, 3, 4, 5], array_column(CaptureOrder::of($frames), 'id'));
    }

    public function testDivisionIsAPartitionInTimeOrderWhateverTheOrderOfTheInput(): void
    {
        $this->limitTo(60)->forAll(
            Generators::seq(Generators::choose(0, 4 * 86_400)),
            Generators::choose(1, 600),
            Generators::choose(0, 1439),
        )
            ->then(static function (array $seconds, int $pause, int $boundary): void {
                \assert($pause > 0);
                $frames = [];
                foreach (array_values($seconds) as $id => $second) {
                    \assert(\is_int($second));
                    $moment = new \DateTimeImmutable("2026-05-01 UTC +$second seconds");
                    $frames[] = new TimedFrame(
                        $id,
                        ShotTime::fromText($moment->format('Y-m-d\TH:i:s')),
                        'A',
                        "p$id",
                    );
                }
                $division = new Division(
                    DayBoundary::at(\sprintf('%02d:%02d', intdiv($boundary, 60), $boundary % 60)),
                    $pause,
                );
                $groups = $division->divide($frames);
                $ids = array_merge(
                    ...array_map(static fn (FrameGroup $group): array => array_column($group->frames, 'id'), $groups),
                    ...[[]],
                );
                self::assertEqualsCanonicalizing(
                    array_column($frames, 'id'),
                    $ids,
                    'every frame is in exactly one group',
                );
                $ticks = array_map(
                    static fn (TimedFrame $frame): int => $frame->capturedAt?->ticks() ?? 0,
                    array_merge(...array_column($groups, 'frames'), ...[[]]),
                );
                $sorted = $ticks;
                sort($sorted);
                self::assertSame($sorted, $ticks, 'in time order');
                shuffle($frames);
                self::assertEquals(
                    self::ids($groups),
                    self::ids($division->divide($frames)),
                    'stable under permutation',
                );
            });
    }

    /**
     * @param array<int, string|null> $times
     *
     * @return list<TimedFrame>
     */
    private static function frames(array $times): array
    {
        $frames = [];
        foreach ($times as $id => $time) {
            $frames[] = new TimedFrame($id, null === $time ? null : ShotTime::fromText($time), 'A', "path $id");
        }

        return $frames;
    }

    /**
     * @param list<FrameGroup> $groups
     *
     * @return array<string, list<int>>
     */
    private static function ids(array $groups): array
    {
        $ids = [];
        foreach ($groups as $n => $group) {
            $day = $group->day?->text() ?? '';
            $ids[isset($ids[$day]) ? "$day $n" : $day] = array_column($group->frames, 'id');
        }

        return $ids;
    }
}
