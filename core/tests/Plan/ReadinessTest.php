<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Plan;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\Readiness;
use Velvet\Core\Plan\Room;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\TemporaryFolder;

final class ReadinessTest extends TestCase
{
    use TemporaryFolder;

    public function testWhatTheCopyWaitsFor(): void
    {
        $here = Room::on($this->folder, 10);
        $plan = self::plan('Lantern Regatta');
        self::assertNull(Readiness::of($plan, false)->waitsFor([$here, $here], []));
        self::assertSame('There are no frames on this card.', Readiness::of(self::plan(), true)->waitsFor([$here], []));
        $filed = self::plan('Lantern Regatta', FrameState::Filed);
        self::assertSame('Every frame here is filed already.', Readiness::of($filed, false)->waitsFor([$here], []));
        self::assertNull(Readiness::of($filed, true)->waitsFor([$here], []), 'the ledger does not know the card yet');
        self::assertSame('There is no shelf to copy to yet.', Readiness::of($plan, false)->waitsFor([], ['LANTERN']));
        self::assertSame(
            'The card LANTERN is out. Put it in again.',
            Readiness::of(self::plan(''), false)->waitsFor([$here], ['LANTERN', 'LANTERN B']),
        );
    }

    public function testTheFirstDriveThatLacksSomethingIsNamed(): void
    {
        $here = Room::on($this->folder, 10);
        $plan = self::plan('Lantern Regatta');
        $gone = $this->folder.'/gone';
        self::assertSame(
            "The twin “{$gone}” is not connected.",
            Readiness::of($plan, false)->waitsFor([$here, Room::on($gone, 10)], []),
        );
        $full = Room::on($this->folder, (int) disk_free_space($this->folder) + 1_000_000_000);
        self::assertMatchesRegularExpression(
            '/^The shelf is short of [\d.]+ GB; 67\.1 MB of it stay free\.$/',
            (string) Readiness::of($plan, false)->waitsFor([$full], []),
        );
    }

    public function testEntriesThatNeedNamesComeLast(): void
    {
        $here = Room::on($this->folder, 10);
        self::assertSame('Entry 1 needs a name first.', Readiness::of(self::plan(''), false)->waitsFor([$here], []));
        foreach ([
            2 => 'Entries 1 and 2 need names first.',
            3 => 'Entries 1, 2 and 3 need names first.',
            200 => '200 entries need names first. Entry 1 is the next.',
        ] as $entries => $sentence) {
            $plan = IntakePlan::of(
                array_map(static fn (int $number): EntryToFile => self::entry($number, ''), range(1, $entries)),
                new FoldersOnDisk([]),
                HouseStyle::standard(),
            );
            $ready = Readiness::of($plan, false);
            self::assertSame($sentence, $ready->waitsFor([$here], []));
            self::assertSame(1, $ready->waitsForNameOf([$here], []));
            self::assertNull($ready->waitsForNameOf([], []), 'it is the shelf that it waits for');
        }
        self::assertNull(Readiness::of(self::plan('Regatta'), false)->waitsForNameOf([$here], []));
    }

    /** Of one entry of one frame; of none where it has no name. */
    private static function plan(?string $name = null, FrameState $state = FrameState::New): IntakePlan
    {
        return IntakePlan::of(
            null === $name ? [] : [self::entry(1, $name, $state)],
            new FoldersOnDisk([]),
            HouseStyle::standard(),
        );
    }

    private static function entry(int $number, string $name, FrameState $state = FrameState::New): EntryToFile
    {
        $file = new CardFile("T000$number.JPG", FileKind::Jpeg, 10, 0);

        return new EntryToFile(
            $number,
            Day::fromText('2026-05-02'),
            $name,
            [new FrameToFile($number, [$file], new FrameNaming(null, "T000$number"), $state)],
        );
    }
}
