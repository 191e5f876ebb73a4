<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Shoot\ArrangedEntry;
use Velvet\Core\Shoot\Arrangement;
use Velvet\Core\Shoot\ArrangementRefused;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\EntryWords;
use Velvet\Core\Shoot\FrameGroup;
use Velvet\Core\Shoot\TimedFrame;

final class ArrangementTest extends TestCase
{
    use TestTrait;

    /** Frames 1 to 9 in capture order, in entries of three. */
    private static function sheet(): Arrangement
    {
        return Arrangement::of([
            new ArrangedEntry(Day::fromText('2026-05-02'), new EntryWords('Regatta'), [1, 2, 3]),
            new ArrangedEntry(Day::fromText('2026-05-03'), new EntryWords(), [4, 5, 6]),
            new ArrangedEntry(Day::fromText('2026-05-04'), new EntryWords('Tide clock'), [7, 8, 9]),
        ], self::order());
    }

    /** @return array<int, int> */
    private static function order(): array
    {
        return array_combine(range(1, 9), range(0, 8));
    }

    /** @return list<list<int>> */
    private static function frames(Arrangement $sheet): array
    {
        return array_map(static fn (ArrangedEntry $entry): array => $entry->frames, $sheet->entries);
    }

    public function testSplitsBeforeAFrame(): void
    {
        $sheet = self::sheet()->split(5, self::order());
        self::assertSame([[1, 2, 3], [4], [5, 6], [7, 8, 9]], self::frames($sheet));
        self::assertSame('2026-05-03', $sheet->entries[2]->day?->text());
    }

    public function testJoinsWithTheEntryBefore(): void
    {
        $sheet = self::sheet()->join(3, self::order());
        self::assertSame([[1, 2, 3], [4, 5, 6, 7, 8, 9]], self::frames($sheet));
        self::assertSame(
            'Tide clock',
            $sheet->entries[1]->words->name,
            'the one without a name takes the other’s',
        );
    }

    public function testMovesAnySelection(): void
    {
        self::assertSame(
            [[1, 2, 5, 9], [3], [4, 6], [7, 8]],
            self::frames(self::sheet()->split(3, self::order())->move([9, 5], 1, self::order())),
        );
        $new = self::sheet()->move([8, 2], null, self::order(), Day::fromText('2026-05-02'));
        self::assertSame([[1, 3], [2, 8], [4, 5, 6], [7, 9]], self::frames($new));
        self::assertSame(
            [[1, 2, 3, 4, 5, 6], [7, 8, 9]],
            self::frames(self::sheet()->move([4, 5, 6], 1, self::order())),
            'an entry that is left empty goes',
        );
    }

    public function testRefusesWhatMakesNoSense(): void
    {
        $tries = [
            [static fn (): Arrangement => self::sheet()->split(4, self::order()), 'nothing before it to split off'],
            [static fn (): Arrangement => self::sheet()->split(99, self::order()), 'not on the sheet any more'],
            [static fn (): Arrangement => self::sheet()->join(1, self::order()), 'none before it'],
            [static fn (): Arrangement => self::sheet()->join(7, self::order()), 'no entry 7'],
            [static fn (): Arrangement => self::sheet()->move([1], 8, self::order()), 'no entry 8'],
            [static fn (): Arrangement => self::sheet()->move([77], 1, self::order()), 'not on the sheet any more'],
        ];
        foreach ($tries as [$try, $sentence]) {
            try {
                $try();
                self::fail($sentence);
            } catch (ArrangementRefused $e) {
                self::assertStringContainsString($sentence, $e->getMessage());
            }
        }
    }

    public function testNewFramesGoToTheNearestEntryOfTheirDay(): void
    {
        $ticks = [1 => 1000, 2 => 2000, 3 => 3000, 4 => 4000, 5 => 5000, 6 => 6000, 10 => 2500, 11 => 9000];
        $order = [1 => 0, 2 => 1, 10 => 2, 3 => 3, 4 => 4, 5 => 5, 6 => 6, 7 => 7, 8 => 8, 9 => 9, 11 => 10];
        $group = static fn (int $id, string $day): FrameGroup => new FrameGroup(
            Day::fromText($day),
            [new TimedFrame($id, null, '', 'x')],
        );
        $sheet = self::sheet()->taking([$group(10, '2026-05-02'), $group(11, '2026-05-09')], $order, $ticks);
        self::assertSame([[1, 2, 10, 3], [4, 5, 6], [7, 8, 9], [11]], self::frames($sheet));
    }

    public function testADivisionKeepsWhatWasTypedForItsDay(): void
    {
        $again = Arrangement::divided(
            [
                new FrameGroup(Day::fromText('2026-05-02'), [new TimedFrame(1, null, '', 'x')]),
                new FrameGroup(Day::fromText('2026-05-08'), [new TimedFrame(2, null, '', 'y')]),
            ],
            self::sheet(),
        );
        self::assertSame(
            ['Regatta', ''],
            array_map(static fn (ArrangedEntry $entry): string => $entry->words->name, $again->entries),
        );
    }

    /**
     * Whatever is done, in whatever order: each frame lies in one entry, none is empty, everything is in capture order.
     */
    public function testEveryEditLeavesAPartitionInOrder(): void
    {
        $this->limitTo(200)->forAll(Generators::seq(
            Generators::tuple(Generators::choose(0, 2), Generators::choose(1, 9), Generators::choose(1, 9)),
        ))->disableShrinking()->then(static function (mixed $edits): void {
            $sheet = self::sheet();
            \assert(\is_array($edits));
            foreach ($edits as $edit) {
                \assert(\is_array($edit) && \is_int($edit[0]) && \is_int($edit[1]) && \is_int($edit[2]));
                $before = $sheet;
                try {
                    $sheet = match ($edit[0]) {
                        0 => $sheet->split($edit[1], self::order()),
                        1 => $sheet->join($edit[1], self::order()),
                        default => $sheet->move(
                            array_values(array_unique([$edit[1], $edit[2]])),
                            9 === $edit[2] ? null : $edit[2],
                            self::order(),
                        ),
                    };
                } catch (ArrangementRefused) {
                    self::assertSame($before, $sheet);
                }
                $all = array_merge(...self::frames($sheet));
                sort($all);
                self::assertSame(range(1, 9), $all);
                $firsts = [];
                foreach ($sheet->entries as $entry) {
                    $sorted = $entry->frames;
                    sort($sorted);
                    self::assertSame($sorted, $entry->frames);
                    $firsts[] = $entry->frames[0] ?? null;
                }
                $sorted = $firsts;
                sort($sorted);
                self::assertSame($sorted, $firsts);
            }
        });
    }
}
