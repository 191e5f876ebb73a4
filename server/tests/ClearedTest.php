<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Filed\Clearance;
use Velvet\Core\Filed\CopyInspection;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Http\SheetView;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\LedgerChain;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\LettingGo;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/** Ways in which a card was once called cleared wrongly: each must keep the word from being said. */
final class ClearedTest extends ServerTestCase
{
    public function testACardInTwoPlacesOnTwoDrivesIsCleared(): void
    {
        $this->takenIn();
        $clearance = $this->ask();
        self::assertSame(
            [true, [], 3, 3],
            [$clearance->cleared, $clearance->missing, $clearance->files, $clearance->inTwoPlaces],
        );
    }

    /** What is a picture, movie or sound by its name or by how it begins is filed as one, wherever it lies. */
    public function testEveryPictureMovieAndSoundIsFiled(): void
    {
        $jpeg = Jpeg::of('hidden', '2026:05:02 19:40:00');
        foreach ([
            'DCIM/100/T0009.CRM' => 'made with care', 'T0010.NEV' => 'made with care', 'T0011.BRAW' => 'made with care',
            'T0012.MPO' => $jpeg.'second', 'T0013.MPG' => "\0\0\1\xBA", 'T0014.INSV' => 'made with care',
            'T0015.LRV' => 'made with care', 'T0016.360' => 'made with care', 'T0017.GPR' => 'made with care',
            'T0018.GIF' => 'GIF89a', 'T0019.WAV' => 'spoken', 'Misc/IMG_0002.JPG' => $jpeg.'third',
            '.hidden/a.jpg' => $jpeg.'fourth', 'DCIM/100/T0020' => $jpeg.'fifth',
        ] as $path => $content) {
            $this->file('card/'.$path, $content);
        }
        $this->takenIn();
        $clearance = $this->ask();
        self::assertSame(
            [true, [], 17, 17],
            [$clearance->cleared, $clearance->missing, $clearance->files, $clearance->inTwoPlaces],
        );
    }

    /** What belongs to no frame is copied with its card's last shoot, under the name that it has, and proven. */
    #[DataProvider('strangers')]
    public function testEveryOtherFileIsFiled(string $path): void
    {
        $this->file('card/'.$path, 'made with care');
        $this->takenIn();
        self::assertTrue($this->ask()->cleared, $path);
        $other = array_values(array_filter(
            $this->tree('twin'),
            static fn (string $file): bool => str_contains($file, '/other files/card/'),
        ));
        self::assertCount(1, $other);
        self::assertStringEqualsFile($this->folder.'/shelf/'.$other[0], 'made with care');
        $this->readCard();
        self::assertTrue($this->ask()->cleared, 'and is known when the card is read again');
        self::assertSame(
            'Every frame here is filed already.',
            $this->get(SheetView::class)->of($this->get(Sheets::class)->open([$this->card()]))['waits_for'],
        );
    }

    /** A card that was filed before its other files were: they join its last shoot, and no name is asked for. */
    public function testOtherFilesJoinTheFramesThatAreFiledAlready(): void
    {
        $this->makeCard();
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        foreach ($intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => 'Lantern Regatta']);
        }
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $this->file('card/MISC/HERON5.SET', 'made with care');
        $sheet = $this->get(Sheets::class)->open([$this->readCard()]);
        $view = $this->get(SheetView::class)->of($sheet);
        self::assertSame([null, 1], [$view['waits_for'], $view['loose']]);
        $this->get(Intakes::class)->settle($sheet, true);
        $this->get(IntakeRun::class)->run($sheet->id(), OnFailure::KeepGoing);
        self::assertContains(
            '2026/2026-05-02 Lantern Regatta/other files/card/MISC/HERON5.SET',
            $this->tree('twin'),
        );
        self::assertSame(1, $this->database()->fetchOne('SELECT count(*) FROM shoot'));
        self::assertTrue($this->ask()->cleared);
    }

    /** One of them that cannot be read does not hold the others up, and is copied when it can be. */
    public function testAnOtherFileThatCannotBeReadStaysUntilItCan(): void
    {
        $this->file('card/MISC/ONE.SET', 'one');
        $this->file('card/MISC/TWO.SET', 'two');
        $this->makeCard();
        $this->shelf();
        $card = $this->readCard();
        // as a reader with a bad contact leaves it
        $this->database()->executeStatement("UPDATE card_file SET fingerprint = NULL WHERE path = 'MISC/ONE.SET'");
        $this->takeInCard($card);
        $others = fn (): array => array_values(array_filter(
            $this->tree('twin'),
            static fn (string $file): bool => str_ends_with($file, '.set') || str_ends_with($file, '.SET'),
        ));
        self::assertCount(1, $others());
        self::assertSame(
            ['1 file on this card belongs to no frame and was not copied: MISC/ONE.SET.'],
            $this->ask()->missing,
        );
        $this->takenIn();
        self::assertCount(2, $others());
        self::assertTrue($this->ask()->cleared);
    }

    #[DataProvider('strangers')]
    public function testWhatIsNotFiledStandsAgainstIt(string $path): void
    {
        $this->file('card/'.$path, 'made with care');
        $this->shelf();
        $style = ['take' => ['loose' => false]] + HouseStyle::standard()->toArray();
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        $intake->styleDocument = $style;
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $this->entities()->clear();
        $clearance = $this->ask();
        self::assertFalse($clearance->cleared, $path);
        self::assertSame(
            ['1 file on this card belongs to no frame and was not copied: '.$path.'.'],
            $clearance->missing,
        );
    }

    /** @return iterable<array{string}> */
    public static function strangers(): iterable
    {
        foreach ([
            'DCIM/100/T0009',
            'DCIM/100/T0009.JPG ',
            '.hidden.jpg',
            'Misc/IMG_0002.JPG',
            'DCIM/100/M0100.CTG',
            'notes.txt',
            'LOST.DIR/12',
            'DCIM/100/T0009.XMP',
            'System Volume Information/tracking.log',
        ] as $path) {
            yield $path => [$path];
        }
    }

    public function testHousekeepingDoesNot(): void
    {
        $this->file('card/MISC/AUTPRINT.MRK', '[HDR]');
        $this->file('card/.DS_Store', "\0\0\0\1Bud1");
        $this->takenIn();
        $clearance = $this->ask();
        self::assertSame(
            [true, 5, 2, 0],
            [$clearance->cleared, $clearance->files, $clearance->housekeeping, $clearance->unknown],
        );
    }

    /** @param \Closure(self): mixed $change */
    #[DataProvider('changes')]
    public function testACardThatChangedSinceItWasReadIsNotTheCardThatWasCopied(\Closure $change, string $says): void
    {
        $this->takenIn();
        self::assertTrue($this->ask()->cleared);
        $change($this);
        $clearance = $this->ask();
        self::assertFalse($clearance->cleared);
        self::assertStringContainsString($says, $clearance->missing[0]);
    }

    /** @return iterable<string, array{\Closure(self): mixed, string}> */
    public static function changes(): iterable
    {
        yield 'a frame is added while it stays in' => [
            static fn (self $test) => $test->shot('DCIM/100/T0004.JPG', '2026:05:02 19:32:00'),
            '1 file is new',
        ];
        yield 'a frame is overwritten, of one size, its time set back' => [static function (self $test): void {
            $path = $test->folder.'/card/DCIM/100/T0001.JPG';
            [$time, $bytes] = [(int) filemtime($path), (int) filesize($path)];
            file_put_contents($path, random_bytes(max(1, $bytes)));
            touch($path, $time);
        }, '1 is changed'];
        yield 'a frame is hidden' => [
            static fn (self $test) => rename(
                $test->folder.'/card/DCIM/100/T0001.JPG',
                $test->folder.'/card/DCIM/100/.T0001.JPG',
            ),
            '1 file is new, 1 is gone',
        ];
        yield 'another card of its name is swapped in' => [static function (self $test): void {
            rename($test->folder.'/card', $test->folder.'/out');
            exec('cp -a '.escapeshellarg($test->folder.'/out').' '.escapeshellarg($test->folder.'/card'));
            $test->shot('DCIM/100/T0001.JPG', '2027:01:01 00:00:00');
        }, 'taken out and put in again, or another one is in its place'];
        yield 'it is out' => [
            static fn (self $test) => rename($test->folder.'/card', $test->folder.'/out'),
            'The card is out',
        ];
    }

    /** Out and in again between two looks at the bays: nobody saw it go, but its reading ended in the middle. */
    public function testACardThatWentAwayWhileItWasReadIsReadAgainAsSoonAsItIsBack(): void
    {
        mkdir($this->folder.'/bay');
        rename($this->makeCard(), $this->folder.'/out');
        $bays = $this->bays();
        rename($this->folder.'/out', $this->folder.'/bay/CARD');
        $bays->look();
        rename($this->folder.'/bay/CARD', $this->folder.'/out');
        $this->get(CardReading::class)->read($this->card());
        self::assertSame(CardState::Unreadable, $this->card()->state);
        rename($this->folder.'/out', $this->folder.'/bay/CARD');
        self::assertTrue($bays->look());
        self::assertSame(CardState::Waiting, $this->card()->state);
        self::assertFalse($bays->look(), 'it is asked for once');
        $this->get(CardReading::class)->read($this->card());
        self::assertSame(CardState::Read, $this->card()->state);
        self::assertFalse($bays->look());
    }

    /** Whatever stops a reading is told; no card stays at “reading” when nobody reads it any more. */
    public function testAReadingThatAnErrorStopsIsNotLeftAsIfItWentOn(): void
    {
        mkdir($this->folder.'/bay');
        rename($this->makeCard(), $this->folder.'/bay/CARD');
        $bays = $this->bays();
        $bays->look();
        $this->database()->executeStatement(
            "ALTER TABLE card_frame ADD CONSTRAINT refuses_all CHECK (path = '') NOT VALID",
        );
        try {
            $this->get(CardReading::class)->read($this->card());
            self::fail('It is told to whoever asked, too.');
        } catch (\Doctrine\DBAL\Exception\DriverException $e) {
            self::assertStringContainsString('refuses_all', $e->getMessage());
        } finally {
            $this->database()->executeStatement('ALTER TABLE card_frame DROP CONSTRAINT IF EXISTS refuses_all');
        }
        $card = $this->card();
        self::assertSame(CardState::Unreadable, $card->state);
        self::assertStringContainsString(
            'An error stopped the reading of the card at “'.$this->folder.'/bay/CARD”',
            (string) $card->problem,
        );
        self::assertFalse($bays->look(), 'not again and again');
        $this->get(CardReading::class)->read($this->card());
        self::assertSame(CardState::Read, $this->card()->state, 'whoever wants it tries again');
    }

    /** The program was not running when the card was out, shot more with, and put back. */
    public function testTheBaysNoticeWhatChangedWhileTheProgramWasDown(): void
    {
        mkdir($this->folder.'/bay');
        rename($this->makeCard(), $this->folder.'/bay/CARD');
        $card = $this->readCard('bay/CARD');
        $this->shelf();
        $this->takeInCard($card);
        $bays = $this->bays();
        $bays->look();
        $card = $this->card();
        self::assertSame(CardState::Read, $card->state);
        self::assertTrue($this->get(CardClearance::class)->of($card)->cleared);

        rename($this->folder.'/bay/CARD', $this->folder.'/out');
        $this->file('out/DCIM/100/T0007.JPG', Jpeg::of('more', '2026:05:03 10:00:00'));
        rename($this->folder.'/out', $this->folder.'/bay/CARD');
        $bays = $this->bays();
        $bays->look();
        $card = $this->card();
        self::assertSame(CardState::Waiting, $card->state, 'it is read again');
        self::assertFalse($this->get(CardClearance::class)->of($card)->cleared);
    }

    public function testNothingIsCopiedFromACardThatChangedSinceItWasRead(): void
    {
        $this->makeCard();
        $intake = $this->sheet();
        $this->shot('DCIM/100/T0004.JPG', '2026:05:02 19:33:00');
        try {
            $this->get(Intakes::class)->settle($intake, true);
            self::fail('The sheet does not show what is on the card.');
        } catch (SheetRefused $e) {
            self::assertStringContainsString('The card changed since it was read: 1 file is new', $e->getMessage());
        }
    }

    public function testOneDriveIsCopiedNotClearedUntilItIsSaidToBeEnough(): void
    {
        TestDrives::$as = [$this->folder.'/shelf' => 'one', $this->folder.'/twin' => 'one'];
        $this->takenIn();
        $clearance = $this->ask();
        self::assertSame(
            [false, true, ['3 frames are in two places, but on one drive: if it breaks, both are gone.']],
            [$clearance->cleared, $clearance->copied, $clearance->missing],
        );
        $this->get(LettingGo::class)->oneDriveIsEnough($this->card());
        $clearance = $this->ask();
        self::assertTrue($clearance->cleared);
        self::assertContains(
            'one_drive_is_enough',
            $this->database()->fetchFirstColumn('SELECT event FROM ledger_line'),
        );
        // the word was given for what was on it then
        $this->shot('DCIM/100/T0009.JPG', '2026:05:02 20:00:00');
        $this->takenIn();
        self::assertFalse($this->ask()->cleared);
    }

    public function testOnePlaceIsNotCountedTwice(): void
    {
        mkdir($this->folder.'/shelf');
        symlink($this->folder.'/shelf', $this->folder.'/link');
        foreach (['link', 'shelf/.', 'shelf/', './shelf', 'card/../shelf'] as $twin) {
            try {
                $this->get(Shelves::class)->at($this->folder.'/shelf', $this->folder.'/'.$twin, []);
                self::fail($twin);
            } catch (SheetRefused $e) {
                self::assertStringContainsString('cannot be its own twin', $e->getMessage(), $twin);
            }
        }
        // made one afterwards: the copies themselves are compared
        $this->takenIn();
        $this->forTwin(static function (string $copy, string $twin): void {
            unlink($twin);
            link($copy, $twin);
        });
        $check = $this->get(LedgerCheck::class)->of(null, static function (): void {});
        self::assertSame([6, 3, 3], [$check->checked, $check->good, \count($check->missing)]);
        self::assertFalse($this->ask(true)->cleared);
    }

    public function testAYearFolderThatLeadsIntoTheShelfIsNoPlace(): void
    {
        $this->makeCard();
        $this->shelf();
        mkdir($this->folder.'/shelf/2026', recursive: true);
        symlink($this->folder.'/shelf/2026', $this->folder.'/twin/2026');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([], $this->tree('shelf'), 'nothing was written through the link');
        self::assertStringContainsString(
            'is a link that leads out of its shelf',
            (string) json_encode(
                array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'note'),
                \JSON_UNESCAPED_UNICODE,
            ),
        );
        self::assertFalse($this->ask()->cleared);
    }

    /** @param \Closure(self): mixed $do */
    #[DataProvider('losses')]
    public function testAPlaceThatIsGoneDoesNotCount(\Closure $do): void
    {
        $this->takenIn();
        self::assertTrue($this->ask()->cleared);
        $do($this);
        self::assertFalse($this->ask()->cleared, 'as a page asks');
        self::assertFalse($this->ask(true)->cleared, 'with copies read again');
        self::assertFalse($this->get(CardClearance::class)->of($this->readCard())->cleared, 'with the card read again');
    }

    /** @return iterable<string, array{\Closure(self): mixed}> */
    public static function losses(): iterable
    {
        yield 'the twin is taken off the shelf’s settings, and deleted' => [static function (self $test): void {
            $test->get(Shelves::class)->change($test->theShelf(), '', null);
            exec('rm -rf '.escapeshellarg($test->folder.'/twin'));
        }];
        yield 'the twin is taken off the settings' => [
            static fn (self $test) => $test->get(Shelves::class)->change($test->theShelf(), '', null),
        ];
        yield 'the twin is another, empty folder now' => [static function (self $test): void {
            mkdir($test->folder.'/other');
            $test->get(Shelves::class)->change($test->theShelf(), '', $test->folder.'/other');
        }];
        yield 'the twin’s folder is deleted by hand' => [
            static fn (self $test) => exec('rm -rf '.escapeshellarg($test->folder.'/twin')),
        ];
        yield 'the twin’s drive is off, and its empty folder is there' => [static function (self $test): void {
            rename($test->folder.'/twin', $test->folder.'/off');
            mkdir($test->folder.'/twin');
            TestDrives::$as = [$test->folder.'/twin' => 'the computer’s own'];
        }];
        yield 'another drive with the same tree is in its place' => [static function (self $test): void {
            TestDrives::$as = [$test->folder.'/twin' => 'another drive'];
        }];
        yield 'a copy is other bytes' => [
            static fn (self $test) => $test->forTwin(
                static fn (string $copy, string $twin) => file_put_contents($twin, 'short'),
            ),
        ];
        yield 'a copy is noise of equal size, its time set back' => [
            static fn (self $test) => $test->forTwin(static function (string $copy, string $twin): void {
                $time = (int) filemtime($twin);
                file_put_contents($twin, random_bytes(max(1, (int) filesize($copy))));
                touch($twin, $time);
            }),
        ];
        yield 'a copy is gone' => [
            static fn (self $test) => $test->forTwin(static fn (string $copy, string $twin) => unlink($twin)),
        ];
        yield 'the twin is a link to the shelf now' => [static function (self $test): void {
            exec('rm -rf '.escapeshellarg($test->folder.'/twin'));
            symlink($test->folder.'/shelf', $test->folder.'/twin');
        }];
    }

    public function testACopyThatWasTouchedCountsWhenItWasReadAgain(): void
    {
        $this->takenIn();
        $this->forTwin(static fn (string $copy, string $twin) => touch($twin));
        $clearance = $this->ask();
        self::assertSame([false, 3], [$clearance->cleared, $clearance->touched]);
        self::assertStringContainsString(
            '3 copies on “'.$this->folder.'/twin” were written to since they were verified',
            $clearance->missing[0],
        );
        self::assertTrue($this->ask(true)->cleared);
        self::assertTrue($this->ask()->cleared, 'and stays so');
    }

    public function testATwinAddedLaterHasNothingYet(): void
    {
        $this->makeCard();
        $this->get(Shelves::class)->at($this->folder.'/shelf', null, []);
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        mkdir($this->folder.'/twin');
        $this->get(Shelves::class)->change($this->theShelf(), '', $this->folder.'/twin');
        self::assertSame(['3 frames are verified in one place only; a second copy is missing.'], $this->ask()->missing);
        foreach ($this->get(Receipts::class)->ofIntake($intake->id()) as $line) {
            self::assertCount(1, $line->places);
        }
        foreach ($this->get(Receipts::class)->filed() as $line) {
            self::assertCount(1, $line->places, 'places come from what was verified, nowhere else');
        }
        // its card fills it
        $this->takenIn();
        self::assertTrue($this->ask()->cleared);
    }

    public function testAKnownShelfKeepsItsTwin(): void
    {
        $this->shelf();
        self::assertSame(
            $this->folder.'/twin',
            $this->get(Shelves::class)->at($this->folder.'/shelf', null, [])->twinRoot,
        );
        self::assertSame(
            $this->folder.'/twin',
            $this->get(Shelves::class)->at($this->folder.'/./shelf//', null, [])->twinRoot,
            'however it is written',
        );
        self::assertCount(1, $this->entities()->getRepository(Shelf::class)->findAll());
    }

    /** A repair for a shelf whose drive is off, asked for on a sheet of another shelf. */
    public function testARepairThatCannotReachItsDriveIsNotDone(): void
    {
        $this->takenIn();
        $this->forTwin(static fn (string $copy, string $twin) => unlink($twin));
        $this->get(LedgerCheck::class)->of(null, static function (): void {});
        $other = $this->get(Shelves::class)->at($this->folder.'/second', null, []);
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        $intake->shelf = $other;
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        // both drives are taken off: empty folders of the computer's own disk are left
        foreach (['shelf', 'twin'] as $place) {
            rename($this->folder.'/'.$place, $this->folder.'/off-'.$place);
            mkdir($this->folder.'/'.$place);
            TestDrives::$as[$this->folder.'/'.$place] = 'the computer’s own';
        }
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([[], [], []], [$this->tree('shelf'), $this->tree('twin'), $this->tree('second')]);
        self::assertSame(
            ['failed'],
            array_values(array_unique(array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'state'))),
        );
    }

    /** Seals in receipts and beside the pictures are compared: the chain alone does not miss its last lines. */
    public function testLinesThatAreTakenOffTheLedgersEndAreMissed(): void
    {
        $this->takenIn();
        $ledger = $this->get(LedgerChain::class);
        self::assertSame(
            ['whole' => true, 'lacks' => []],
            array_intersect_key($ledger->check(), ['whole' => 1, 'lacks' => 1]),
        );
        $seal = $this->get(Receipts::class)->seal(1) ?? self::fail('The receipt has no seal.');
        self::assertTrue($ledger->has($seal));
        $receipt = json_decode((string) $this->request('GET', '/api/sheets/1/receipt.json')->getContent(), true);
        self::assertIsArray($receipt);
        self::assertSame([1, $seal->hex], [$receipt['intake'], $receipt['seal']]);
        self::assertStringContainsString(
            $seal->hex,
            (string) $this->request('GET', '/api/sheets/1/receipt.mhl')->getContent(),
        );
        $this->database()->executeStatement(
            'SET session_replication_role = replica; DELETE FROM ledger_line WHERE id = (SELECT max(id) FROM '
                .'ledger_line); SET session_replication_role = DEFAULT',
        );
        self::assertSame(
            ['whole' => false, 'lacks' => [1]],
            array_intersect_key($ledger->check(), ['whole' => 1, 'lacks' => 1]),
        );
        self::assertFalse($ledger->has($seal));
    }

    /**
     * The second slot's card, equal file by file, was never copied: it is entered, every file read and compared, and
     * then it is cleared.
     */
    public function testACardWhoseFramesAreAllFiledIsEnteredBeforeItIsCleared(): void
    {
        $this->takenIn();
        exec('cp -a '.escapeshellarg($this->folder.'/card').' '.escapeshellarg($this->folder.'/second'));
        $this->readCard('second');
        self::assertSame(['This card has not been taken in yet.'], $this->ask(true)->missing);
        $intake = $this->get(Sheets::class)->open([$this->card()]);
        self::assertNull($this->get(SheetView::class)->of($intake)['waits_for']);
        $this->get(Intakes::class)->start($intake);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertTrue($this->ask()->cleared);
        self::assertCount(3, $this->tree('shelf'));
        // entered once, there is nothing more to do
        self::assertSame(
            'Every frame here is filed already.',
            $this->get(SheetView::class)->of($this->get(Sheets::class)->open([$this->card()]))['waits_for'],
        );
    }

    private function makeCard(): string
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }

        return $this->folder.'/card';
    }

    /**
     * Somebody compares a copy while its metadata is being written: what was compared is of no copy any more when it is
     * set down, and the copy that was verified meanwhile stands.
     */
    public function testWhatWasFoundOfAnOlderContentSaysNothingOfTheNewOne(): void
    {
        $this->takenIn();
        $copies = $this->get(FiledCopies::class);
        $seen = $copies->of([1])[0];
        $path = $seen->path();
        file_put_contents($path, 'written meanwhile', \FILE_APPEND);
        $copies->verified(
            1,
            $seen->shelf,
            [$seen->place->root],
            $seen->path,
            Digest::ofFile($path),
            (int) filesize($path),
        );
        $copies->damaged($seen, CopyStanding::Changed);
        $copies->whole($seen);
        self::assertSame('whole', $copies->of([1])[0]->standing->value);
        self::assertTrue($copies->of([1])[0]->verified->equals(Digest::ofFile($path)));
        $copies->damaged($copies->of([1])[0], CopyStanding::Changed);
        self::assertSame('changed', $copies->of([1])[0]->standing->value);
    }

    /** Content that was made for a copy and is in its place, before that is set down: nothing is to be repaired. */
    public function testACopyWhoseMetadataIsJustBeingWrittenIsNotDamaged(): void
    {
        $this->takenIn();
        $seen = $this->get(FiledCopies::class)->of([1])[0];
        $path = $seen->path();
        file_put_contents($path, 'being written', \FILE_APPEND);
        $this->database()->executeStatement(
            'UPDATE filed_file SET metadata_digest = ?, metadata_bytes = ? WHERE id = 1',
            [Digest::ofFile($path)->hex, filesize($path)],
        );
        $copies = $this->get(CopyInspection::class)->look([1], true)[1];
        self::assertSame(CopyStanding::BeingWritten, $copies[0]->standing);
        self::assertSame('whole', $this->get(FiledCopies::class)->of([1])[0]->standing->value);
        self::assertContains(
            \sprintf('Metadata is being written into 1 copy on “%s”; wait for its end.', $seen->place->root),
            $this->get(CardClearance::class)->of($this->card(), true)->missing,
        );
        $sheet = $this->get(Sheets::class)->open([$this->readCard()]);
        self::assertStringContainsString(
            'Every frame here is filed already.',
            (string) $this->request('GET', '/api/sheets/'.$sheet->id())->getContent(),
        );
    }

    /**
     * The twin's drive goes when the first file has its name there, before that is set down; then it is back. It is not
     * asked for then: the copy lies on it.
     */
    public function testAFileIsFiledWhenAllOfItsPlacesAreSetDown(): void
    {
        TestDrives::goesOnce(
            $this->folder.'/twin',
            fn (): bool => [] !== (array) glob($this->folder.'/twin/*/*/*.jpg'),
        );
        $this->takenIn();
        self::assertSame(
            array_fill(0, \count($this->tree('shelf')), 2),
            $this->database()->fetchFirstColumn(
                "SELECT count(*) FROM filed_copy WHERE state = 'whole' GROUP BY file_id",
            ),
        );
    }

    private function takenIn(): void
    {
        if (!is_file($this->folder.'/card/DCIM/100/T0001.JPG')) {
            $this->makeCard();
        }
        $this->shelf();
        $this->takeInCard($this->readCard());
    }

    private function takeInCard(Card $card): void
    {
        $intake = $this->get(Sheets::class)->open([$card]);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $this->entities()->clear();
    }

    private function card(): Card
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Card::class)->findOneBy([], ['id' => 'DESC'])
            ?? self::fail('There is no card.');
    }

    private function theShelf(): Shelf
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Shelf::class)->findOneBy([]) ?? self::fail('There is no shelf.');
    }

    private function ask(bool $readAgain = false): Clearance
    {
        return $this->get(CardClearance::class)->of($this->card(), $readAgain);
    }

    /**
     * @param \Closure(string, string): mixed $do takes the paths of a file's copy on the shelf and of that on the twin
     */
    private function forTwin(\Closure $do): void
    {
        foreach ($this->tree('shelf') as $path) {
            $do($this->folder.'/shelf/'.$path, $this->folder.'/twin/'.$path);
        }
    }

    private function bays(): Bays
    {
        return new Bays(
            $this->entities(),
            $this->get(\Symfony\Component\Messenger\MessageBusInterface::class),
            $this->get(\Velvet\Server\Store\Happenings::class),
            $this->get(\Psr\Clock\ClockInterface::class),
            $this->get(\Velvet\Server\Work\Cards\CardNow::class),
            $this->get(\Velvet\Server\Work\Cards\KnownCards::class),
            $this->folder.'/bay',
        );
    }
}
