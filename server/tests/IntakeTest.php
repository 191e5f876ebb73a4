<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\TestWith;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Demo\MovieAndNote;
use Velvet\Server\Http\IntakeProgress;
use Velvet\Server\Http\LedgerView;
use Velvet\Server\Http\SheetView;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\MeasuredPictures;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Store\SheetFrame;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\Styles;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Watch\Cable;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Intakes\IntakeRefused;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\Interrupted;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Pictures\DrawPictures;
use Velvet\Server\Work\Pictures\DrawPicturesHandler;
use Velvet\Server\Work\Pictures\Pictures;
use Velvet\Server\Work\Pictures\PictureSize;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

final class IntakeTest extends ServerTestCase
{
    public function testWhatWasFiledSinceTheCardWasReadIsNotFiledAgain(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        // as another worker has it on record that read the card before
        $this->database()->executeStatement('UPDATE card_file SET filed_file_id = NULL');
        $this->database()->executeStatement("UPDATE card_frame SET state = 'new'");
        $this->entities()->clear();
        $card = $this->entities()->getRepository(Card::class)->findOneBy([]);
        self::assertNotNull($card);
        $again = $this->get(Sheets::class)->open([$card]);
        $this->get(Intakes::class)->settle($again, false);
        $this->get(IntakeRun::class)->run($again->id(), OnFailure::KeepGoing);
        self::assertSame(1, $this->database()->fetchOne('SELECT count(*) FROM filed_file'));
        self::assertSame(
            'filed',
            $this->database()->fetchOne('SELECT state FROM skipped WHERE intake_id = ?', [$again->id()]),
        );
    }

    public function testACardIsCopiedByOneIntakeAtATime(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $first = $this->sheet();
        $second = new Intake([...$first->cards], HouseStyle::standard(), new \DateTimeImmutable());
        $second->shelf = $first->shelf;
        $this->entities()->persist($second);
        $this->entities()->flush();
        $this->get(Sheets::class)->divide($second);
        $this->get(Intakes::class)->settle($first, false);
        $this->expectExceptionMessage('is being copied by intake '.$first->id());
        $this->get(Intakes::class)->settle($second, false);
    }

    public function testACardGoesToItsShelfAndTwin(): void
    {
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0001.JPG', '2026:05:03 01:12:00');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:04 09:00:00');
        $this->file('card/DCIM/100/T0003.WAV', 'spoken');
        $before = $this->fingerprintOfCard();
        $intake = $this->takeIn();
        self::assertSame(IntakeState::Done, $intake->state);
        self::assertSame([
            '2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0001.jpg',
            '2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0002.jpg',
            '2026/2026-05-04 Lantern Regatta/2026-05-04_lantern-regatta_0001.jpg',
            '2026/2026-05-04 Lantern Regatta/2026-05-04_lantern-regatta_0001.wav',
        ], $this->tree('shelf'));
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        foreach (['shelf', 'twin'] as $place) {
            self::assertFileEquals(
                $this->folder.'/card/DCIM/100/T0002.JPG',
                $this->folder.'/'.$place.'/2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0001.jpg',
            );
            self::assertFileEquals(
                $this->folder.'/card/DCIM/100/T0003.WAV',
                $this->folder.'/'.$place.'/2026/2026-05-04 Lantern Regatta/2026-05-04_lantern-regatta_0001.wav',
            );
        }
        self::assertSame($before, $this->fingerprintOfCard(), 'the card is as it was');
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
    }

    public function testTheBrowsersAreToldHowFarACopyIsSoThatNoneNeedAsk(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:04 09:00:00');
        $this->takeIn();
        $told = array_map(
            static fn (mixed $json): mixed => json_decode(\is_string($json) ? $json : '', true, 64),
            $this->database()->fetchFirstColumn("SELECT payload FROM happening WHERE topic = 'intake' ORDER BY id"),
        );
        self::assertSame(
            ['waiting', 'running', 'done'],
            array_column($told, 'state'),
        );
        $progress = array_column($told, 'progress')[0];
        self::assertIsArray($progress);
        self::assertSame([2, 0, 2, 0], [
            $progress['files'], $progress['files_done'], $progress['frames'], $progress['frames_done'],
        ]);
        self::assertEquals([
            ['name' => '2026-05-02_lantern-regatta_0001.jpg', 'step' => 'copying'],
            ['name' => '2026-05-04_lantern-regatta_0001.jpg', 'step' => 'copying'],
        ], $progress['now']);
        $none = ['files' => 1, 'files_done' => 0, 'bytes_done' => 0, 'frames_done' => 0, 'failed' => 0];
        self::assertEquals(
            [['number' => 1, 'progress' => $none], ['number' => 2, 'progress' => $none]],
            array_column($told, 'entries')[0],
        );
    }

    public function testASecondRunCopiesNothing(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        $tree = $this->tree('shelf');
        rename($this->folder.'/card/DCIM/100/T0001.JPG', $this->folder.'/card/DCIM/100/RENAMED.JPG');
        $sum = $this->get(IntakeProgress::class)->of($this->takeIn('Another name'));
        self::assertSame([0, 1], [$sum['frames_done'], $sum['already_filed']]);
        self::assertSame($tree, $this->tree('shelf'));
    }

    public function testWhatIsGoneFromTheShelfIsNotSkipped(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        $path = $this->tree('shelf')[0];
        unlink($this->folder.'/shelf/'.$path);
        unlink($this->folder.'/twin/'.$path);
        $this->takeIn();
        self::assertSame([$path], $this->tree('shelf'));
    }

    public function testTheNamesOnTheSheetAreTheNamesOnTheDrive(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet('Kiln opening: day 2 | Été');
        $shown = [];
        foreach ($this->get(SheetView::class)->framesOf($intake, 1, 0, 10) as $frame) {
            self::assertIsArray($frame['to']);
            $shown = [...$shown, ...$frame['to']];
        }
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame($shown, $this->tree('shelf'));
        self::assertStringContainsString(
            '2026-05-02 Kiln opening - day 2 - Été/2026-05-02_kiln-opening-day-2-été_0001.jpg',
            $shown[0],
        );
    }

    public function testOddFilesGetASentenceEachAndTheRestGoesOn(): void
    {
        $this->shot('DCIM/100/fine.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/ein schöner Tag 📷.JPG', '2026:05:02 19:31:41');
        $this->shot('DCIM/100/no exif.JPG', '');
        $this->file('card/DCIM/100/zero.JPG', '');
        symlink('/etc/passwd', $this->folder.'/card/DCIM/100/out.JPG');
        $intake = $this->takeIn();
        self::assertSame(IntakeState::Done, $intake->state);
        self::assertCount(4, $this->tree('shelf'));
        self::assertStringNotContainsString(
            'root:',
            (string) shell_exec('cat '.escapeshellarg($this->folder.'/shelf').'/*/*/*'),
        );
        $codes = [];
        foreach ($this->onSheet() as $frame) {
            $codes[$frame->frame->files[0]->name()] = array_column($frame->problems(), 'code');
        }
        self::assertEquals(
            [
                'fine.JPG' => [],
                'ein schöner Tag 📷.JPG' => [],
                'no exif.JPG' => ['no_capture_time'],
                'zero.JPG' => ['empty', 'no_capture_time'],
            ],
            $codes,
        );
        self::assertSame(['symbolic_link'], array_column($this->readCard()->problems, 'code'));
    }

    public function testTheSamePictureTwiceIsCopiedOnceAndProven(): void
    {
        $path = $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        copy($path, $this->folder.'/card/DCIM/100/T0001 again.JPG');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        self::assertContains('twice', $this->codes($intake));
        $intake = $this->again($intake);
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertCount(2, $this->tree('shelf'));
        $sum = $this->get(IntakeProgress::class)->of($this->again($intake));
        self::assertSame([2, 2, 1, 0], [$sum['frames'], $sum['frames_done'], $sum['twice'], $sum['failed']]);
        self::assertSame(
            ['filed', 'same', 'filed'],
            array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'state'),
        );
        self::assertTrue(
            $this->get(CardClearance::class)->of(
                $this->again($intake)->cards[0] ?? self::fail('There is no card.'),
            )->cleared,
        );
    }

    public function testALikenessAloneSkipsNothing(): void
    {
        $bytes = Jpeg::of('long', '2026:05:02 19:31:40').str_repeat("\0", 100_000);
        $this->file('card/DCIM/100/T0001.JPG', $bytes);
        $bytes[30_000] = 'x'; // where the fingerprint does not look
        $other = $this->file('card/DCIM/100/T0002.JPG', $bytes);
        $intake = $this->takeIn();
        $failures = json_encode(
            $this->get(IntakeProgress::class)->of($intake)['failures'],
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
        );
        self::assertStringContainsString('T0002.JPG looked the same as T0001.JPG, but is not.', $failures);
        self::assertFalse(
            $this->get(CardClearance::class)->of($intake->cards[0] ?? self::fail('There is no card.'))->cleared,
        );
        // on the next sheet it is a frame of its own
        $this->takeIn();
        self::assertCount(2, $this->tree('shelf'));
        self::assertFileEquals($other, $this->folder.'/shelf/'.$this->tree('shelf')[1]);
    }

    public function testTheSecondSlotsCardStandsInForAFileThatCannotBeRead(): void
    {
        $first = $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $second = $this->secondCard();
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$this->readCard(), $second]);
        foreach ($intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => 'Regatta']);
        }
        $this->get(Intakes::class)->settle($intake, true);
        [$whole, $time] = [(string) file_get_contents($first), (int) filemtime($first)];
        unlink($first);
        mkdir($first); // a file that cannot be read any more
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertCount(2, $this->tree('shelf'));
        self::assertStringEqualsFile(
            $this->folder.'/shelf/2026/2026-05-02 Regatta/2026-05-02_regatta_0001.jpg',
            $whole,
        );
        self::assertSame(
            ['failed', 'filed', 'filed', 'same'],
            $this->sorted(array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'state')),
        );
        // the cause is gone: what failed is compared with what was filed in its place
        rmdir($first);
        file_put_contents($first, $whole);
        touch($first, $time);
        $this->get(Intakes::class)->retry($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            ['filed', 'filed', 'same', 'same'],
            $this->sorted(array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'state')),
        );
        self::assertCount(2, $this->tree('twin'));
    }

    public function testALostOrDamagedCopyIsRepairedFromTheCard(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:02 19:31:42');
        $this->takeIn();
        $tree = $this->tree('shelf');
        $good = (string) file_get_contents($this->folder.'/twin/'.$tree[1]);
        unlink($this->folder.'/twin/'.$tree[0]);
        file_put_contents($this->folder.'/shelf/'.$tree[1], 'cut short');
        $intake = $this->sheet('');
        self::assertContains('repairs', $this->codes($intake));
        self::assertSame(
            [$tree[0], $tree[1]],
            array_merge(
                ...array_filter(
                    array_column($this->get(SheetView::class)->framesOf($intake, 1, 0, 3), 'to'),
                    is_array(...),
                ),
            ),
        );
        $intake = $this->again($intake);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([], array_diff($tree, $this->tree('twin')));
        self::assertStringEqualsFile($this->folder.'/shelf/'.$tree[1], $good);
        self::assertStringEqualsFile($this->folder.'/shelf/'.$tree[1].'.damaged-1', 'cut short');
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
        self::assertContains('file_repaired', $this->database()->fetchFirstColumn('SELECT event FROM ledger_line'));
    }

    public function testAFolderThatADriveWasMountedOnIsNotWrittenToNorHeldToBeEmpty(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        // as if the twin had been on a drive that is taken off now: its folder is there, empty, on the computer's own
        // disk
        exec('rm -rf '.escapeshellarg($this->folder.'/twin').' && mkdir '.escapeshellarg($this->folder.'/twin'));
        TestDrives::$as = [$this->folder.'/twin' => 'the computer’s own'];
        $this->entities()->clear();
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        self::assertNotContains(
            'repairs',
            $this->codes($intake),
            'nothing is said of what lies on a drive that is away',
        );
        self::assertSame(
            \sprintf('The twin “%s/twin” is not connected.', $this->folder),
            $this->get(SheetView::class)->of($this->again($intake))['waits_for'],
        );
        try {
            $this->get(Intakes::class)->settle($this->again($intake), false);
            self::fail('It must not start.');
        } catch (SheetRefused) {
            self::assertSame([], $this->tree('twin'));
        }
    }

    public function testADriveThatIsGoneHaltsTheIntakeUntilItIsBack(): void
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $copied = 0;
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives, function () use (&$copied): void {
            if (2 === ++$copied) {
                rename($this->folder.'/twin', $this->folder.'/pulled');
            }
        });
        $intake = $this->again($intake);
        self::assertSame(IntakeState::Paused, $intake->state);
        self::assertStringContainsString(
            'The twin “'.$this->folder.'/twin” is not connected any more.',
            (string) $intake->halted,
        );
        self::assertSame(
            0,
            $this->get(IntakeProgress::class)->of($intake)['failed'],
            'no file is set down as failed for that',
        );
        self::assertDirectoryDoesNotExist($this->folder.'/twin', 'nothing is written where the drive was');
        $this->get(Interrupted::class)->takeUp();
        self::assertSame(IntakeState::Paused, $this->again($intake)->state);
        rename($this->folder.'/pulled', $this->folder.'/twin');
        $this->get(Interrupted::class)->takeUp();
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        self::assertCount(3, $this->tree('twin'));
    }

    /** The raw files of one slot and the JPEGs of the other are filed as frames of both; each card is cleared. */
    public function testTwoSlotsThatHoldTheHalvesOfFrames(): void
    {
        foreach (['T0001', 'T0002'] as $n => $name) {
            $this->file("card/DCIM/100/$name.JPG", Samples::of('jpg').$n);
            $this->file("second/DCIM/100/$name.TRW", Samples::rawWithoutPreview().$n);
        }
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$this->readCard(), $this->readCard('second')]);
        $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Quay']);
        self::assertStringContainsString(
            '"title":"2 in two slots"',
            json_encode($this->get(SheetView::class)->of($intake), \JSON_THROW_ON_ERROR),
        );
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            [[0, 'raw + JPEG'], [1, 'raw + JPEG']],
            array_map(
                static fn (array $frame): array => [$frame['position'], $frame['kinds']],
                $this->get(IntakeProgress::class)->frames($intake, 1, 0, 9),
            ),
        );
        self::assertSame(
            ['0001.jpg', '0001.trw', '0002.jpg', '0002.trw'],
            array_map(static fn (string $path): string => substr($path, -8), $this->tree('shelf')),
        );
        self::assertSame(
            [2, 2],
            $this->database()->fetchFirstColumn(
                'SELECT count(*) FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id GROUP BY r.id',
            ),
        );
    }

    /** A house style may file raw file and JPEG as two frames; taken in again, neither is copied twice. */
    public function testAPairIsFiledAsTwoFramesWhereTheStyleSaysSo(): void
    {
        $this->get(Styles::class)->save(HouseStyle::fromArray(
            ['take' => ['pairs' => 'apart']] + HouseStyle::standard()->toArray(),
        ));
        $this->file('card/DCIM/100/T0001.JPG', Samples::of('jpg'));
        $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $intake = $this->takeIn('Quay');
        [$raw, $jpeg] = $this->fingerprints();
        self::assertSame(
            [[0, $raw], [1, $jpeg]],
            array_map(
                static fn (array $frame): array => [$frame['position'], $frame['picture']],
                $this->get(IntakeProgress::class)->frames($intake, 1, 0, 9),
            ),
        );
        self::assertSame(
            ['0001.trw', '0002.jpg'],
            array_map(static fn (string $path): string => substr($path, -8), $this->tree('shelf')),
        );
        self::assertSame(
            [1, 1],
            $this->database()->fetchFirstColumn(
                'SELECT count(*) FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id GROUP BY r.id',
            ),
        );
        $again = $this->get(SheetView::class)->of($this->sheet('Quay'));
        self::assertSame([0, 0], [$again['bytes'], $again['fresh']]);
        self::assertSame([$raw, $jpeg], $this->database()->fetchFirstColumn(
            'SELECT r.picture FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id ORDER BY f.path',
        ));
    }

    /** Which file of a pair leads is seen on the sheet before, and stays with the filed frame. */
    #[TestWith(['raw', 0])]
    #[TestWith(['jpeg', 1])]
    public function testAPairIsSeenByTheFileThatLeads(string $leads, int $file): void
    {
        $this->get(Styles::class)->save(HouseStyle::fromArray(
            ['take' => ['pairs' => $leads]] + HouseStyle::standard()->toArray(),
        ));
        $this->file('card/DCIM/100/T0001.JPG', Samples::of('jpg'));
        $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $picture = $this->fingerprints()[$file];
        $intake = $this->sheet('Quay');
        self::assertSame(1, $this->get(SheetView::class)->of($intake)['fresh']);
        self::assertSame($picture, $this->get(SheetView::class)->framesOf($intake, 1, 0, 9)[0]['picture']);
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([$picture], $this->database()->fetchFirstColumn('SELECT picture FROM filed_frame'));
    }

    /** What was not measured with its card, since the other one of a pair led there. */
    public function testAPictureThatIsDrawnIsMeasuredOnce(): void
    {
        // never drawn before, also by an earlier run
        $this->file('card/DCIM/100/T0001.JPG', Jpeg::of(bin2hex(random_bytes(8)), '2026:05:02 19:31:40', 0x808080));
        $this->readCard();
        $picture = Fingerprint::ofPath($this->folder.'/card/DCIM/100/T0001.JPG');
        foreach ([PictureSize::Near, PictureSize::Strip] as $size) {
            $this->get(Pictures::class)->draw($size, $picture);
            $measured = $this->database()->fetchFirstColumn(
                'SELECT brightness FROM measured_picture WHERE picture = ?',
                [$picture],
            );
            self::assertEqualsWithDelta([0.5], $measured, 0.02);
        }
    }

    /** @return list<string> of the card's raw file and JPEG */
    private function fingerprints(): array
    {
        return array_map(
            fn (string $name): string => Fingerprint::ofPath($this->folder.'/card/DCIM/100/'.$name),
            ['T0001.TRW', 'T0001.JPG'],
        );
    }

    public function testACardThatIsPulledHaltsTheIntakeToo(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        rename($this->folder.'/card', $this->folder.'/pulled');
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertStringContainsString('The card card is out.', (string) $this->again($intake)->halted);
        rename($this->folder.'/pulled', $this->folder.'/card');
        $this->get(Interrupted::class)->takeUp();
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
    }

    public function testChecksumsLieInTheShootsFolderWhereTheStyleAsks(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $intake->styleDocument = [
            'copies' => ['second_digest' => 'sha256', 'manifests' => true],
        ] + HouseStyle::standard()->toArray();
        $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Regatta']);
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        foreach (['shelf', 'twin'] as $place) {
            // the ordinary programs, from Debian
            foreach (['xxh128sum' => 'xxh128', 'sha256sum' => 'sha256'] as $program => $extension) {
                exec(
                    \sprintf(
                        'cd %s && %s -c checksums-intake-%d.%s 2>&1',
                        escapeshellarg($this->folder.'/'.$place.'/2026/2026-05-02 Regatta'),
                        $program,
                        $intake->id(),
                        $extension,
                    ),
                    $output,
                    $status,
                );
                self::assertSame(0, $status, implode("\n", $output));
            }
        }
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
    }

    public function testAFileThatChangedSinceItWasReadFailsAndCanBeTriedAgain(): void
    {
        $path = $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        [$whole, $time] = [(string) file_get_contents($path), (int) filemtime($path)];
        file_put_contents($path, substr($whole, 0, 100));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $intake = $this->again($intake);
        $sum = $this->get(IntakeProgress::class)->of($intake);
        self::assertSame([1, 1], [$sum['frames_done'], $sum['failed']]);
        self::assertStringContainsString(
            'T0001.JPG has 100 bytes',
            json_encode($sum['failures'], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
        );
        file_put_contents($path, $whole);
        touch($path, $time);
        $this->get(Intakes::class)->retry($intake);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(0, $this->get(IntakeProgress::class)->of($this->again($intake))['failed']);
        self::assertCount(2, $this->tree('twin'));
    }

    public function testAfterACrashItGoesOnWhereItWas(): void
    {
        for ($n = 1; $n <= 4; ++$n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        // something goes wrong that has nothing to do with the third file, and a part file stays behind
        $copied = 0;
        try {
            $onFile = static function () use (&$copied): void {
                if (3 === ++$copied) {
                    throw new \RuntimeException('killed');
                }
            };
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing, $onFile);
        } catch (\RuntimeException) {
        }
        $this->file('shelf/2026/2026-05-02 Lantern Regatta/.intake-'.$intake->id().'-3.velvet-part', 'half');
        self::assertSame(IntakeState::Running, $this->again($intake)->state);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertCount(4, $this->tree('shelf'));
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
    }

    public function testInterruptedIntakesAreTakenUp(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $transport = self::getContainer()->get('messenger.transport.copies');
        self::assertInstanceOf(\Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport::class, $transport);
        $this->get(Interrupted::class)->takeUp();
        self::assertCount(2, $transport->getSent(), 'for two workers');
    }

    public function testPauseStopsBetweenFilesThatAreCopiedTogetherAndResumeGoesOn(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        $intakes = $this->get(Intakes::class);
        $intakes->settle($intake, true);
        // what was tried before is copied by itself
        $this->database()->executeStatement("UPDATE transfer SET tries = 1 WHERE source LIKE '%T0002.JPG'");
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing, function () use ($intake): void {
            $this->database()->executeStatement("UPDATE intake SET state = 'paused' WHERE id = ?", [$intake->id()]);
        });
        $intake = $this->again($intake);
        self::assertSame(IntakeState::Paused, $intake->state);
        self::assertCount(1, $this->tree('shelf'));
        $intakes->resume($intake);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertCount(2, $this->tree('shelf'));
        $this->expectException(IntakeRefused::class);
        $intakes->pause($this->again($intake));
    }

    public function testStoppingKeepsWhatIsCopied(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(Intakes::class)->stop($intake);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([], is_dir($this->folder.'/shelf/2026') ? $this->tree('shelf') : []);
        self::assertSame(2, $this->sheet()->entries->first() instanceof \Velvet\Server\Store\Entry ? 2 : 0);
        $frames = array_column($this->onSheet(), 'frame');
        self::assertSame([FrameState::New, FrameState::New], array_column($frames, 'state'));
    }

    public function testTwoWorkersNeverHandleOneFileAndADeadOnesWorkIsTakenOver(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        // another worker, with a connection of its own, is at the first file
        $other = \Doctrine\DBAL\DriverManager::getConnection($this->database()->getParams());
        $other->executeStatement(
            "UPDATE transfer
                SET state = 'copying', worker = 'other', lease_until = now() + interval '1 minute',
                    backend_pid = pg_backend_pid(), backend_start = (SELECT backend_start
                FROM pg_stat_activity WHERE pid = pg_backend_pid()) WHERE source LIKE '%T0001.JPG'",
        );
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(IntakeState::Running, $this->again($intake)->state, 'the other one is not done');
        self::assertCount(1, $this->tree('shelf'));
        // its lease ends although it is still connected, as when its machine hangs
        $other->executeStatement(
            "UPDATE transfer SET lease_until = now() - interval '1 second' WHERE worker = 'other'",
        );
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertCount(2, $this->tree('shelf'));
        $other->close();
    }

    public function testAWorkerThatIsGoneKeepsNothing(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $this->database()->executeStatement(
            "UPDATE transfer
                SET state = 'verifying', worker = 'gone', lease_until = now() + interval '1 minute', backend_pid = 1,
                    backend_start = now()",
        );
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            IntakeState::Done,
            $this->again($intake)->state,
            'its connection is gone: nobody waits for its lease',
        );
    }

    public function testWhatACrashLeftIsSweptWhenTheIntakeIsStopped(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $this->file('twin/2026/2026-05-02 Lantern Regatta/.intake-'.$intake->id().'-1-1.velvet-part', 'half');
        $this->get(Intakes::class)->stop($intake);
        $this->get(Interrupted::class)->takeUp();
        self::assertSame([], $this->tree('twin'));
    }

    public function testWhatMustNotStartDoesNot(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet(' ');
        $this->refuses('One entry has no name yet', fn () => $this->get(Intakes::class)->start($intake));
        $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Regatta']);
        rename($this->folder.'/twin', $this->folder.'/unplugged');
        $this->refuses('is not there or cannot be written to', fn () => $this->get(Intakes::class)->start($intake));
        rename($this->folder.'/unplugged', $this->folder.'/twin');
        $this->get(Intakes::class)->start($intake);
        $this->refuses(
            'its names are settled',
            fn () => $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Too late']),
        );
        $this->refuses(
            'cards are never written to',
            fn () => $this->get(Shelves::class)->at($this->folder.'/card/shelf', null, [$this->folder.'/card']),
        );
        $this->refuses(
            'cannot be its own twin',
            fn () => $this->get(Shelves::class)->at($this->folder.'/x', $this->folder.'/x', []),
        );
    }

    public function testTheLedgerTakesInsertsOnlyAndShowsATamperedLine(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        $view = $this->get(LedgerView::class);
        self::assertSame(['lines' => 3, 'whole' => true, 'broken_at' => null, 'lacks' => []], $view->all()['chain']);
        foreach ([
            "UPDATE ledger_line SET details = '{}' WHERE id = 2",
            'DELETE FROM ledger_line WHERE id = 2',
            'TRUNCATE ledger_line',
        ] as $crime) {
            try {
                $this->database()->executeStatement($crime);
                self::fail($crime);
            } catch (\Doctrine\DBAL\Exception $e) {
                self::assertStringContainsString('append-only', $e->getMessage());
            }
        }
        $this->database()->executeStatement(
            "SET session_replication_role = replica; UPDATE ledger_line
                SET details = replace(details, 'T0001', 'T0009') WHERE id = 2; SET session_replication_role = DEFAULT",
        );
        self::assertSame(['lines' => 1, 'whole' => false, 'broken_at' => 2, 'lacks' => []], $view->all()['chain']);
    }

    public function testAFrameAddedLaterUnclearsTheCardAndASheetKeepsItsNames(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:32:00');
        $clearance = $this->get(CardClearance::class)->of($this->readCard());
        self::assertSame(
            [false, ['1 frame is on this card and nowhere else.']],
            [$clearance->cleared, $clearance->missing],
        );
        $intake = $this->sheet('Second helping');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:02 19:33:00');
        $this->readCard();
        $intake = $this->again($intake);
        self::assertSame(
            ['Second helping'],
            $intake->entries->map(static fn ($entry): string => $entry->name)->toArray(),
        );
        $frames = $this->get(SheetFrames::class)->ofIntake($intake->id());
        self::assertCount(3, $frames[$intake->entries[0]?->id()] ?? []);
    }

    /** A movie is dated, named and filed like a still; left by rule it keeps the card from being cleared. */
    #[TestWith([true])]
    #[TestWith([false])]
    public function testAMovieThatBelongsToNoPictureIsAFrame(bool $comes): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $at = gmmktime(19, 31, 50, 5, 2, 2026);
        $movie = MovieAndNote::movie([Jpeg::of('1', ''), Jpeg::of('2', '')], 24, 16, 6, (int) $at);
        touch($this->file('card/DCIM/100/T0002.MOV', $movie), (int) $at);
        $intake = $this->sheet();
        $intake->styleDocument = ['subfolders' => ['movie' => 'movies'], 'metadata' => ['texts' => [
            ['field' => 'creator', 'pieces' => [['piece' => 'text', 'text' => 'Ines Varga-Holt']]],
        ]]] + HouseStyle::standard()->toArray();
        $intake->companions = $comes;
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $folder = '2026/2026-05-02 Lantern Regatta/';
        self::assertSame(
            $comes
                ? [
                    $folder.'2026-05-02_lantern-regatta_0001.jpg', $folder.'movies/2026-05-02_lantern-regatta_0002.mov',
                    $folder.'movies/2026-05-02_lantern-regatta_0002.xmp',
                ]
                : [$folder.'2026-05-02_lantern-regatta_0001.jpg'],
            $this->tree('twin'),
        );
        $sums = $this->get(IntakeProgress::class)->sums($this->again($intake));
        self::assertSame(
            $comes ? [2, 0, 0] : [1, 1, 0],
            [$sums['frames_done'], $sums['left_out'], $sums['already_filed']],
        );
        self::assertSame(
            $comes ? [] : ['1 frame is on this card and nowhere else.'],
            $this->get(CardClearance::class)->of($this->readCard())->missing,
        );
        if ($comes) {
            self::assertStringEqualsFile($this->folder.'/shelf/'.$this->tree('shelf')[1], $movie);
            self::assertStringContainsString(
                'Ines Varga-Holt',
                (string) file_get_contents($this->folder.'/twin/'.$this->tree('twin')[2]),
            );
        }
    }

    /** For playing a shoot with its curve, when its card was formatted and holds other frames. */
    public function testHowBrightAFrameIsOutlivesItsCard(): void
    {
        foreach ([0x010101, 0x808080, 0xFFFFFF] as $n => $colour) {
            $this->file("card/DCIM/100/T000$n.JPG", Jpeg::of("$n", "2026:05:02 19:31:4$n", $colour));
        }
        $intake = $this->takeIn();
        $draw = fn () => ($this->get(DrawPicturesHandler::class))(
            new DrawPictures($this->readCard()->id(), 0, \PHP_INT_MAX),
        );
        $draw();
        exec('rm -r '.escapeshellarg($this->folder.'/card/DCIM'));
        $this->file('card/DCIM/100/T0001.JPG', Jpeg::of('another', '2026:06:02 19:31:40', 0x404040));
        $draw();
        $shoot = $this->again($intake)->entries[0]?->shoot?->id() ?? self::fail('There is no shoot.');
        $answer = $this->request('GET', "/api/shoots/$shoot/light");
        self::assertSame(200, $answer->getStatusCode());
        $light = json_decode((string) $answer->getContent(), true);
        self::assertIsArray($light);
        self::assertEqualsWithDelta([0.0, 0.5, 1.0], $light['light'], 0.02);
        self::assertSame(404, $this->request('GET', '/api/shoots/9999/light')->getStatusCode());
    }

    public function testDrawnPicturesAreMeasuredAndABlackOneIsNoted(): void
    {
        foreach ([0x010101, 0x808080, 0xFFFFFF] as $n => $colour) {
            $this->file("card/DCIM/100/T000$n.JPG", Jpeg::of("$n", "2026:05:02 19:31:4$n", $colour));
        }
        $intake = $this->sheet();
        $card = $this->readCard()->id();
        ($this->get(DrawPicturesHandler::class))(new DrawPictures($card, 0, \PHP_INT_MAX));
        self::assertSame([], $this->get(MeasuredPictures::class)->missing($card, 0, \PHP_INT_MAX), 'once is enough');
        $intake = $this->again($intake);
        self::assertEqualsWithDelta(
            [0.0, 0.5, 1.0],
            $this->get(SheetView::class)->tape($intake)[0]['brightness'],
            0.02,
        );
        $view = json_encode($this->get(SheetView::class)->of($intake), \JSON_THROW_ON_ERROR);
        self::assertStringContainsString('1 looks black', $view);
        self::assertStringContainsString('1 looks blown out', $view);
    }

    public function testAFrameThatCouldNotBeReadIsTriedAgainWhenTheCardIsReadAgain(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $this->readCard();
        // as a reader with a bad contact leaves it
        $this->database()->executeStatement("UPDATE card_frame SET state = 'unreadable' WHERE path LIKE '%T0001.JPG'");
        $this->database()->executeStatement("UPDATE card_file SET fingerprint = NULL WHERE path LIKE '%T0001.JPG'");
        $this->database()->executeStatement(
            "UPDATE card_frame SET problems = '[{\"code\": \"part_unreadable\", \"text\": \"\"}]'
                WHERE path LIKE '%T0002.JPG'",
        );
        $this->readCard();
        self::assertSame(
            [[0, '[]'], [0, '[]']],
            array_map(
                array_values(...),
                $this->database()->fetchAllAssociative(
                    "SELECT CAST(state = 'unreadable' AS int), problems FROM card_frame",
                ),
            ),
        );
    }

    public function testACardPulledWhileItIsReadGoesOnWhereItWas(): void
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $card = $this->readCard();
        // as if the reading had come to the second frame
        $database = $this->get(Connection::class);
        $camera = $database->fetchOne('SELECT camera FROM card_frame WHERE card_id = ? LIMIT 1', [$card->id()]);
        $database->executeStatement("DELETE FROM card_frame WHERE path = 'DCIM/100/T0003.JPG'");
        $database->executeStatement("UPDATE card_frame SET camera = 'read before' WHERE path = 'DCIM/100/T0001.JPG'");
        rename($this->folder.'/card', $this->folder.'/pulled');
        $this->get(CardReading::class)->read($card);
        self::assertStringContainsString('There is no card at', (string) $card->problem);
        self::assertSame(
            2,
            $database->fetchOne('SELECT count(*) FROM card_frame WHERE card_id = ?', [$card->id()]),
            'what was read is kept',
        );
        rename($this->folder.'/pulled', $this->folder.'/card');
        $this->get(CardReading::class)->read($card);
        self::assertEquals(
            ['state' => 'read', 'frames_read' => 3],
            $database->fetchAssociative('SELECT state, frames_read FROM card WHERE id = ?', [$card->id()]),
        );
        self::assertSame(
            ['read before', $camera, $camera],
            $database->fetchFirstColumn('SELECT camera FROM card_frame WHERE card_id = ? ORDER BY path', [$card->id()]),
            'the first was not opened again',
        );
    }

    public function testBaysNoticeCards(): void
    {
        $bay = getenv('VELVET_BAYS');
        self::assertIsString($bay);
        $label = 'TEST-'.bin2hex(random_bytes(3));
        mkdir("$bay/$label/DCIM", 0o777, true);
        try {
            self::assertTrue($this->get(Bays::class)->look());
            self::assertFalse($this->get(Bays::class)->look());
            $card = $this->entities()->getRepository(Card::class)->findOneBy(['label' => $label]);
            self::assertNotNull($card);
            self::assertSame([true, CardState::Waiting], [$card->present, $card->state]);
            rename("$bay/$label", $this->folder.'/out');
            self::assertTrue($this->get(Bays::class)->look());
            self::assertFalse($this->entities()->getRepository(Card::class)->findOneBy(['label' => $label])?->present);
        } finally {
            exec('rm -rf '.escapeshellarg("$bay/$label"));
        }
    }

    /** A camera that the system mounts is a card in its bay; one that it does not mount can only be spoken of. */
    public function testACameraOnACable(): void
    {
        $bay = getenv('VELVET_BAYS');
        self::assertIsString($bay);
        $devices = $this->folder.'/usb';
        $this->file('usb/1-2:1.0/bInterfaceClass', "08\n");
        self::assertFalse((new Cable($devices))->hasCamera());
        $this->file('usb/1-3:1.0/bInterfaceClass', "06\n");
        self::assertTrue((new Cable($devices))->hasCamera());
        $camera = $bay.'/gphoto2:host=Tarn_Optical_Heron_5';
        mkdir($camera.'/store_00010001/DCIM/100', 0o755, true);
        try {
            self::assertTrue($this->get(Bays::class)->look());
            $card = $this->entities()->getRepository(Card::class)->findOneBy(['present' => true]);
            self::assertSame(
                ['Tarn Optical Heron 5', $camera.'/store_00010001'],
                [$card?->label, $card?->root],
            );
            self::assertFalse($this->get(Bays::class)->look(), 'it is known now');
        } finally {
            exec('rm -r '.escapeshellarg($camera));
        }
        self::assertTrue($this->get(Bays::class)->look());
        self::assertSame([], $this->entities()->getRepository(Card::class)->findBy(['present' => true]), 'pulled');
    }

    public function testACardThatIsGoneIsToldAsUnreadable(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $card = $this->readCard();
        rename($this->folder.'/card', $this->folder.'/out');
        $this->get(CardReading::class)->read($card);
        self::assertSame(CardState::Unreadable, $card->state);
        self::assertStringContainsString('There is no card at', (string) $card->problem);
    }

    private function refuses(string $sentence, \Closure $call): void
    {
        try {
            $call();
        } catch (SheetRefused $e) {
            self::assertStringContainsString($sentence, $e->getMessage());

            return;
        }
        self::fail('Not refused: '.$sentence);
    }

    private function fingerprintOfCard(): string
    {
        return (string) shell_exec(
            'cd '.escapeshellarg($this->folder.'/card').' && find . -printf "%p %s %T@ %m\n" | sort'
                .' && find . -type f -exec sha256sum {} + | sort',
        );
    }

    /** @return list<SheetFrame> all frames of a sheet opened now */
    private function onSheet(): array
    {
        return array_merge(...array_values($this->get(SheetFrames::class)->ofIntake($this->sheet()->id())));
    }

    /** @return list<string> codes of the notes in the sheet's margin */
    private function codes(Intake $intake): array
    {
        $codes = [];
        $entries = $this->get(SheetView::class)->of($this->again($intake))['entries'];
        self::assertIsArray($entries);
        foreach ($entries as $entry) {
            self::assertIsArray($entry);
            self::assertIsArray($entry['notes']);
            foreach ($entry['notes'] as $note) {
                self::assertIsArray($note);
                $codes[] = $note['code'];
            }
        }

        return array_values(array_filter($codes, is_string(...)));
    }

    /** A card with the same files, as from the camera's other slot. */
    private function secondCard(): Card
    {
        exec('cp -rp '.escapeshellarg($this->folder.'/card').' '.escapeshellarg($this->folder.'/second'));

        return $this->readCard('second');
    }

    /**
     * @param list<string> $texts
     *
     * @return list<string>
     */
    private function sorted(array $texts): array
    {
        sort($texts);

        return $texts;
    }
}
