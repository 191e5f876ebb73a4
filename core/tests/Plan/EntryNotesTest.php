<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryNotes;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\FrameConcern;
use Velvet\Core\Plan\FrameLook;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\PlannedFrame;
use Velvet\Core\Shoot\BelievableTimes;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\MarginNote;
use Velvet\Core\Style\HouseStyle;

final class EntryNotesTest extends TestCase
{
    #[DataProvider('concerns')]
    public function testTheFirstConcernOfAFrame(?FrameConcern $concern, PlannedFrame $frame, FrameLook $look): void
    {
        $times = BelievableTimes::on(Day::fromText('2026-05-04'));
        self::assertSame($concern, FrameConcern::of($frame, $look, $times));
    }

    /** @return iterable<string, array{FrameConcern|null, PlannedFrame, FrameLook}> */
    public static function concerns(): iterable
    {
        $plain = self::frame(1);
        $new = new PlannedFrame($plain, ['a'], $plain->files);
        $fine = new PictureMeasures(0.4, 0.01, 0.01, 0.6);
        $black = new PictureMeasures(0.0, 1.0, 0.0);
        yield 'none' => [null, $new, new FrameLook([], $fine)];
        yield 'not measured yet' => [null, $new, new FrameLook()];
        foreach (['empty', 'cut_short', 'broken', 'not_a_picture', 'part_unreadable'] as $code) {
            yield $code => [FrameConcern::Damaged, $new, new FrameLook(['other_content', $code], $black)];
        }
        yield 'undated' => [FrameConcern::Undated, $new, new FrameLook(['other_content', 'no_capture_time'])];
        foreach ([
            '1904-01-01T00:00:10' => true, '1980-01-01T00:00:00' => true, '1989-12-31T23:59:59' => true,
            '1990-01-01T00:00:00' => false, '2000-01-01T00:00:00' => false, '2026-05-05T23:59:59' => false,
            '2026-05-06T00:00:00' => true, '2035-05-02T10:00:00' => true, '9999-12-31T23:59:59' => true,
        ] as $time => $isWrong) {
            yield 'dated '.$time => [
                $isWrong ? FrameConcern::ClockWrong : null,
                self::planned(self::frame(1, time: $time)),
                new FrameLook(),
            ];
        }
        yield 'the file\'s own time' => [
            FrameConcern::Undated,
            self::planned(self::frame(1, time: '1985-05-02T10:00:00')),
            new FrameLook(['no_capture_time']),
        ];
        yield 'named as something else' => [FrameConcern::OtherContent, $new, new FrameLook(['other_content'], $black)];
        yield 'black' => [FrameConcern::Black, $new, new FrameLook([], $black)];
        yield 'blown out' => [FrameConcern::BlownOut, $new, new FrameLook([], new PictureMeasures(1.0, 0.0, 0.9, 0.6))];
        yield 'blurred' => [FrameConcern::Blurred, $new, new FrameLook([], new PictureMeasures(0.4, 0.0, 0.0, 0.1))];
        $unreadable = self::frame(1, FrameState::Unreadable);
        yield 'unreadable' => [
            FrameConcern::Unreadable, new PlannedFrame($unreadable, [], $unreadable->files), new FrameLook(['empty']),
        ];
        yield 'filed, whatever it looks like' => [
            FrameConcern::Filed, new PlannedFrame(self::frame(1, FrameState::Filed), [], []), new FrameLook([], $black),
        ];
        $equal = new PlannedFrame($plain, [], $plain->files, equals: ['b']);
        yield 'twice' => [FrameConcern::Twice, $equal, new FrameLook(['empty'])];
        $damagedCopy = new FrameToFile(1, $plain->files, $plain->naming, repairs: ['2026/a.jpg']);
        yield 'repairs' => [
            FrameConcern::Repairs, new PlannedFrame($damagedCopy, ['a'], $plain->files), new FrameLook([], $black),
        ];
    }

    public function testNotesStandInOneOrderAndNameTheirFrames(): void
    {
        $notes = self::notes(
            [
                self::frame(1, FrameState::Filed, '2026-05-02T22:00:00'), self::frame(2, time: '2026-05-02T23:59:58'),
                self::frame(3, time: '2026-05-03T00:30:00'), self::frame(4, FrameState::Unreadable),
            ],
            [2 => new FrameLook(['cut_short'])],
        );
        self::assertSame([
            ['unreadable', [3]], ['damaged', [2]], ['filed', [0]], ['past_midnight', []],
        ], array_map(static fn (MarginNote $note): array => [$note->code, $note->positions], $notes));
        self::assertStringContainsString('T0003', $notes[1]->text, 'damage is told by the frame\'s name');
    }

    public function testWhatIsOlderThanTheLastIntakeIsLeftOver(): void
    {
        $frames = [
            self::frame(1, time: '2026-05-02T10:00:00'),
            self::frame(2, FrameState::Filed, '2026-05-02T10:00:05'),
        ];
        $codes = static fn (?string $last): array => array_map(
            static fn (MarginNote $note): array => [$note->code, $note->positions],
            self::notes($frames, [], null === $last ? null : Day::fromText($last)),
        );
        self::assertSame([['leftover', [0]], ['filed', [1]]], $codes('2026-05-03'));
        self::assertSame([['filed', [1]]], $codes('2026-05-02'), 'of the same day it may be of the same shoot');
        self::assertSame([['filed', [1]]], $codes(null));
    }

    public function testAnIntervalChangesOnlyWhereAnotherCanBeRead(): void
    {
        $runs = static function (int $interval): array {
            $frames = [];
            foreach ([[0, 10_000], [194_000, $interval]] as [$after, $every]) {
                for ($n = 0; $n < 20; ++$n) { // the second run begins within the first one's interval
                    $seconds = intdiv($after + $n * $every, 1000);
                    $frames[] = self::frame(\count($frames), time: gmdate('Y-m-d\TH:i:s', 1_777_716_000 + $seconds));
                }
            }

            return array_map(static fn (MarginNote $note): string => $note->title, self::notes($frames, []));
        };
        self::assertSame(
            ['Interval changes to 20 s', 'Time-lapse, every 20 s'],
            \array_slice($runs(20_000), 1),
        );
        self::assertSame(['Time-lapse, every 10 s', 'Time-lapse, every 10 s'], $runs(10_000));
    }

    public function testManyAreToldWithTheirThousands(): void
    {
        $frames = array_map(
            static fn (int $n): FrameToFile => self::frame($n, FrameState::Filed),
            range(1, 1234),
        );
        self::assertSame('1,234 already filed', self::notes($frames, [])[0]->title);
    }

    /**
     * @param list<FrameToFile>     $frames
     * @param array<int, FrameLook> $looks  by position
     *
     * @return list<MarginNote>
     */
    private static function notes(array $frames, array $looks, ?Day $lastIntake = null): array
    {
        $plan = IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Lantern Regatta', $frames)],
            new FoldersOnDisk([]),
            HouseStyle::standard(),
        );

        return EntryNotes::of(
            $plan->entries[0],
            array_map(static fn (int $i): FrameLook => $looks[$i] ?? new FrameLook(), array_keys($frames)),
            DayBoundary::at('04:00'),
            BelievableTimes::on(Day::fromText('2026-05-04')),
            $lastIntake,
        );
    }

    private static function planned(FrameToFile $frame): PlannedFrame
    {
        return new PlannedFrame($frame, ['a'], $frame->files);
    }

    private static function frame(int $id, FrameState $state = FrameState::New, ?string $time = null): FrameToFile
    {
        $name = \sprintf('T%04d', $id);
        $at = null === $time ? null : ShotTime::fromText($time);

        return new FrameToFile(
            $id,
            [new CardFile($name.'.JPG', FileKind::Jpeg, 10, 0)],
            new FrameNaming($at, $name),
            $state,
            exposed: new Exposed($at?->ticks(), 'Heron 5', null, null),
        );
    }
}
