<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Exception\DriverException;
use Symfony\Component\Process\Process;
use Velvet\Bench\Trials\ConsoleProcess;
use Velvet\Bench\Trials\TrialPlace;
use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Custody;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\FiledOnCard;
use Velvet\Server\Work\Intakes\IntakeRefused;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Metadata\MetadataWriting;
use Velvet\Server\Work\Metadata\OutsideChanges;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/** Names, records and states when several things happen at once, or one after the other has changed the ground. */
final class RacesTest extends ServerTestCase
{
    /** Two cameras, one wedding: two sheets are copied at once into one shoot. */
    public function testTwoSheetsNeverPlanTheSameName(): void
    {
        $intakes = [];
        foreach (['one', 'two'] as $card) {
            foreach ([1, 2, 3] as $n) {
                $this->file("$card/DCIM/100/T000$n.JPG", Jpeg::of("$card $n", "2026:05:02 19:31:4$n"));
            }
            $intakes[] = $this->named($this->readCard($card), 'Lantern Regatta');
        }
        foreach ($intakes as $intake) {
            $this->get(Intakes::class)->settle($intake, true);
        }
        foreach ($intakes as $intake) {
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        }
        self::assertSame(
            ['filed' => 6],
            array_count_values(
                array_map(
                    static fn (mixed $state): string => \is_string($state) ? $state : '',
                    $this->database()->fetchFirstColumn('SELECT state FROM transfer'),
                ),
            ),
        );
        self::assertCount(6, $this->tree('shelf'));
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
    }

    /**
     * Somebody else opens a sheet, or adds a style, at this moment: who comes second waits and finds the first one's.
     */
    public function testSheetsAndStylesAreAddedOneAfterAnother(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shelf();
        $card = $this->readCard();
        $other = DriverManager::getConnection($this->database()->getParams());
        $this->database()->executeStatement("SET lock_timeout = '100ms'");
        foreach ([
            [Lock::OpenedSheets, fn () => $this->get(Sheets::class)->open([$card])],
            [Lock::AddedStyles, fn () => $this->get(Styles::class)->add(HouseStyle::standard())],
        ] as [$lock, $do]) {
            $other->executeStatement('SELECT pg_advisory_lock(?, 0)', [$lock->value]);
            try {
                $do();
                self::fail('It does not wait for the other one.');
            } catch (DriverException $e) {
                self::assertSame('55P03', $e->getSQLState(), 'lock_not_available');
            }
            $other->executeStatement('SELECT pg_advisory_unlock(?, 0)', [$lock->value]);
            $do();
        }
        $other->close();
        self::assertSame('Standard 3', $this->get(Styles::class)->add(HouseStyle::standard()));
    }

    /** While a card is compared with the ledger its filed frames stay filed, and what is filed meanwhile is, too. */
    public function testComparingACardForgetsNothingMeanwhile(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $this->entities()->clear();
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $this->entities()->clear();
        $card = $this->entities()->find(Card::class, 1) ?? self::fail('No card.');
        $meanwhile = null;
        TestDrives::$isOff = function () use ($intake, &$meanwhile): bool {
            TestDrives::$isOff = null;
            $meanwhile = $this->database()->fetchFirstColumn('SELECT state FROM card_frame ORDER BY path');
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

            return false;
        };
        $this->get(FiledOnCard::class)->compare($card);
        self::assertSame(['filed', 'new'], $meanwhile);
        self::assertSame(
            [['filed', 1], ['filed', 2]],
            $this->database()->fetchAllNumeric('SELECT f.state, c.filed_file_id FROM card_frame f
                JOIN card_file c ON c.frame_id = f.id ORDER BY f.path'),
        );
        // and what is lost since is not filed any more
        foreach (['shelf', 'twin'] as $root) {
            unlink($this->folder.'/'.$root.'/'.$this->tree($root)[0]);
        }
        $this->get(FiledOnCard::class)->compare($card);
        self::assertSame(
            [['new', null, 1], ['filed', 2, null]],
            $this->database()->fetchAllNumeric('SELECT f.state, c.filed_file_id, c.repairs_file_id FROM card_frame f
                JOIN card_file c ON c.frame_id = f.id ORDER BY f.path'),
        );
    }

    /** A sheet is not settled by what is known of a card that is just being read again. */
    public function testASheetIsSettledWhenItsCardsAreRead(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $other = DriverManager::getConnection($this->database()->getParams());
        $other->executeStatement('SELECT pg_advisory_lock(?, 1)', [Lock::Card->value]);
        $this->database()->executeStatement("SET lock_timeout = '100ms'");
        try {
            $this->get(Intakes::class)->settle($intake, true);
            self::fail('It does not wait for the reading.');
        } catch (DriverException $e) {
            self::assertSame('55P03', $e->getSQLState(), 'lock_not_available');
        }
        // nobody who looks at the page is kept waiting
        $this->database()->executeStatement("UPDATE card SET state = 'reading'");
        self::assertStringContainsString(
            'has not been read to its end yet',
            (string) $this->request('POST', '/api/sheets/'.$intake->id().'/copy', [])->getContent(),
        );
        $other->close();
    }

    /** Two workers at one intake do not make it twice as long. */
    public function testSecondsOfSeveralWorkersAreThoseThatPassed(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $other = DriverManager::getConnection($this->database()->getParams());
        $other->executeStatement(
            'SELECT pg_advisory_lock_shared(?, ?)',
            [Lock::Intake->value, $intake->id()],
        ); // is at it, too
        $since = microtime(true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $passed = microtime(true) - $since;
        $other->close();
        $seconds = $this->again($intake)->seconds;
        self::assertGreaterThan(0, $seconds);
        self::assertLessThanOrEqual($passed / 2, $seconds);
    }

    /** A drive that turns read-only: the intake waits for a person, instead of failing file after file. */
    public function testAReadOnlyDriveHaltsTheIntake(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        mkdir($this->folder.'/twin');
        $twin = escapeshellarg($this->folder.'/twin');
        $mounts = 0 === posix_geteuid(); // nothing else keeps root from writing
        if ($mounts) {
            exec("mount --bind $twin $twin 2>&1", $output, $code);
            if (0 !== $code) {
                self::markTestSkipped('Nothing can be mounted here.');
            }
        }
        $writable = fn (bool $is): mixed => $mounts
            ? exec('mount -o remount,bind,'.($is ? 'rw' : 'ro')." $twin")
            : chmod($this->folder.'/twin', $is ? 0o755 : 0o555);
        try {
            $intake = $this->sheet();
            $this->get(Intakes::class)->settle($intake, true);
            $writable(false);
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
            $halted = $this->database()->fetchAssociative('SELECT state, halted FROM intake');
            self::assertIsArray($halted);
            self::assertSame('paused', $halted['state']);
            self::assertIsString($halted['halted']);
            self::assertStringContainsString(
                'Nothing can be written to “'.$this->folder.'/twin” any more: its drive is read-only',
                $halted['halted'],
            );
            self::assertSame([], $this->database()->fetchFirstColumn("SELECT id FROM transfer WHERE state = 'failed'"));
            $writable(true);
            $this->get(Intakes::class)->resume($this->again($intake));
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
            self::assertSame(IntakeState::Done, $this->again($intake)->state);
            self::assertCount(2, $this->tree('twin'));
        } finally {
            $writable(true);
            if ($mounts) {
                exec("umount $twin");
            }
        }
    }

    /**
     * Rejects were deleted by hand in both places; what the ledger has of them stays, and their names are not given
     * again.
     */
    public function testARecordIsNeverReused(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        [$path] = $this->tree('shelf');
        foreach (['shelf', 'twin'] as $place) {
            unlink($this->folder.'/'.$place.'/'.$path);
        }
        $before = $this->database()->fetchAssociative('SELECT id, path, digest, original_path FROM filed_file');
        $this->file('two/DCIM/100/T0009.JPG', Jpeg::of('another', '2026:05:02 20:31:40'));
        $intake = $this->named($this->readCard('two'), 'Lantern Regatta');
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            $before,
            $this->database()->fetchAssociative(
                'SELECT id, path, digest, original_path FROM filed_file ORDER BY id LIMIT 1',
            ),
        );
        self::assertCount(2, $this->database()->fetchFirstColumn('SELECT DISTINCT path FROM filed_file'));
        self::assertNotContains($path, $this->tree('shelf'));
        self::assertCount(1, $this->tree('shelf'));
    }

    public function testCustodyTellsTwoCardsOfEqualPathsApart(): void
    {
        foreach (['one', 'two'] as $i => $card) {
            $this->file("$card/DCIM/100/T0001.JPG", Jpeg::of($card, "2026:05:02 19:31:4$i"));
        }
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$this->readCard('one'), $this->readCard('two')]);
        foreach ($intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => 'Regatta']);
        }
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $cards = [];
        foreach ($this->database()->fetchFirstColumn('SELECT id FROM filed_frame ORDER BY captured_at') as $frame) {
            self::assertIsInt($frame);
            $lines = $this->get(Custody::class)->ofFrame($frame);
            self::assertSame(['file_filed'], array_column($lines, 'event'));
            $cards[] = $lines[0]['card'];
        }
        self::assertSame(['one', 'two'], $cards);
        // lines from before the file was named in them cannot be told apart: neither frame claims the other's
        $this->database()->executeStatement(
            "SET session_replication_role = replica; UPDATE ledger_line
                SET details = (details::jsonb - 'file' - 'card' - 'card_id')::text;
                SET session_replication_role = DEFAULT",
        );
        self::assertSame([], $this->get(Custody::class)->ofFrame(1));
    }

    /** Another program crops a JPEG in place while the twin is away; then the twin comes back. */
    public function testAnotherPictureIsNeverTakenOverUnasked(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        [$path] = $this->tree('shelf');
        $received = (string) file_get_contents($this->folder.'/twin/'.$path);
        rename($this->folder.'/twin', $this->folder.'/away');
        file_put_contents(
            $this->folder.'/shelf/'.$path,
            Jpeg::of('cropped by another program', '2026:05:02 19:31:40', 0x123456),
        );
        $changes = $this->get(OutsideChanges::class);
        $changes->look(1);
        self::assertSame(
            [true],
            array_column($changes->in(1), 'picture_changed'),
            'it is offered, with what is to be known of it',
        );
        self::assertNull(
            $this->database()->fetchOne('SELECT digest_now FROM filed_file'),
            'and is not the ledger’s truth',
        );
        rename($this->folder.'/away', $this->folder.'/twin');
        $changes->look(1);
        self::assertSame(['shelf'], array_column($changes->in(1), 'place'), 'the pristine twin is not the change');
        self::assertFalse($this->get(CardClearance::class)->of($this->readCard())->cleared);
        // theirs is taken by word: then the frame on the card is in no place any more
        $changes->takeTheirs($changes->in(1)[0]['file']);
        self::assertFileEquals($this->folder.'/shelf/'.$path, $this->folder.'/twin/'.$path);
        $clearance = $this->get(CardClearance::class)->of($this->readCard());
        self::assertSame(
            [false, ['1 frame is on this card and nowhere else.']],
            [$clearance->cleared, $clearance->missing],
        );
        $intake = $this->takeIn();
        self::assertCount(2, $this->tree('shelf'), 'it is new again, and gets a name of its own');
        self::assertStringEqualsFile($this->folder.'/shelf/'.$this->tree('shelf')[1], $received);
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared, (string) $intake->id());
    }

    /**
     * What was verified in both places, and was changed by a program in one while the other was away, comes level when
     * it is back.
     */
    public function testACopyThatStayedBehindIsBroughtLevel(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn();
        [$path] = $this->tree('shelf');
        rename($this->folder.'/twin', $this->folder.'/away');
        exec('exiftool -q -overwrite_original -XMP-dc:Title=Quay '.escapeshellarg($this->folder.'/shelf/'.$path));
        $changes = $this->get(OutsideChanges::class);
        $changes->look(1);
        self::assertSame([false], array_column($changes->in(1), 'picture_changed'));
        $changes->takeTheirs($changes->in(1)[0]['file']);
        self::assertFalse($this->get(CardClearance::class)->of($this->card())->cleared);
        rename($this->folder.'/away', $this->folder.'/twin');
        self::assertFalse($this->get(CardClearance::class)->of($this->card())->cleared, 'it has the old content still');
        $changes->look(1);
        self::assertSame([], $changes->in(1), 'which is no change of anybody’s');
        self::assertFileEquals($this->folder.'/shelf/'.$path, $this->folder.'/twin/'.$path);
        self::assertTrue($this->get(CardClearance::class)->of($this->card())->cleared);
    }

    /** The new file took its place on the shelf and cannot on the twin: it is not said to be as it was. */
    public function testMetadataThatCameHalfWayIsSetDownAsWhatItIs(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->withMetadata();
        [$path] = $this->tree('shelf');
        $new = (string) file_get_contents($this->folder.'/shelf/'.$path);
        $received = (string) file_get_contents($this->folder.'/card/DCIM/100/T0001.JPG');
        // as a crash between the two left it; and another file bears the name on the twin
        file_put_contents($this->folder.'/twin/'.$path, $received.'x');
        $this->database()->executeStatement(
            "UPDATE filed_file
                SET metadata_state = 'waiting', metadata_begun = metadata_wanted, metadata_digest = digest_now,
                    metadata_bytes = bytes_now, digest_now = NULL, bytes_now = NULL, second_now = NULL,
                    metadata_tries = 0",
        );
        $tries = 0;
        while ($tries < 6 && $this->get(MetadataWriting::class)->nextAnywhere()) {
            ++$tries;
        }
        $file = $this->database()->fetchAssociative('SELECT metadata_state, metadata_note, digest_now FROM filed_file');
        self::assertIsArray($file);
        self::assertSame(['written', hash('xxh128', $new)], [$file['metadata_state'], $file['digest_now']]);
        self::assertIsString($file['metadata_note']);
        self::assertStringContainsString(
            '“'.$this->folder.'/twin” the old file is still there',
            $file['metadata_note'],
        );
        self::assertSame(
            ['whole', 'changed'],
            $this->database()->fetchFirstColumn(
                'SELECT c.state FROM filed_copy c JOIN place p ON p.id = c.place_id ORDER BY p.root',
            ),
        );
        self::assertLessThan(6, $tries, 'it is not tried for ever');
        self::assertFalse($this->get(CardClearance::class)->of($this->card(), true)->cleared);
        self::assertSame(1, \count($this->get(LedgerCheck::class)->of(null, static function (): void {})->changed));
    }

    /** The drive of a shelf without a twin goes while metadata is written. */
    public function testAnIntakeThatCannotGoOnIsPausedAndSaysWhy(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->get(Shelves::class)->at($this->folder.'/shelf', null, []);
        $intake = $this->withMetadata();
        $this->database()->executeStatement(
            "UPDATE filed_file SET metadata_state = 'waiting'; UPDATE intake SET state = 'running', seal = NULL",
        );
        rename($this->folder.'/shelf', $this->folder.'/off');
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        $intake = $this->again($intake);
        self::assertSame(IntakeState::Paused, $intake->state);
        self::assertStringContainsString('is not connected any more', (string) $intake->halted);
    }

    /** The same error again and again is no reason to begin again for ever. */
    public function testAnErrorThatComesBackPausesTheIntake(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $this->database()->executeStatement(
            "ALTER TABLE ledger_line ADD CONSTRAINT broken CHECK (event <> 'file_filed')",
        );
        try {
            for ($n = 1; $n <= 3; ++$n) {
                try {
                    $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
                    self::fail('It cannot go well.');
                } catch (\Doctrine\DBAL\Exception) {
                    self::assertSame(
                        3 === $n ? 'paused' : 'running',
                        $this->database()->fetchOne('SELECT state FROM intake'),
                    );
                }
            }
        } finally {
            $this->database()->executeStatement('ALTER TABLE ledger_line DROP CONSTRAINT broken');
        }
        self::assertStringContainsString(
            'An error stopped the copy 3 times in a row',
            (string) $this->again($intake)->halted,
        );
        $this->get(Intakes::class)->resume($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertCount(1, $this->tree('twin'));
    }

    /**
     * What one page knows of an intake is old when another has turned it: each turn is asked of the database itself.
     */
    public function testTurnsThatComeAtOnceDoNotUndoEachOther(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        // halted and stopped together: this page still believes that it runs
        $this->database()->executeStatement(
            "UPDATE intake SET state = 'paused', halted = 'The card is out.', awaits = '/gone'",
        );
        $this->get(Intakes::class)->stop($intake);
        self::assertSame([IntakeState::Stopped, null], [$this->again($intake)->state, $this->again($intake)->halted]);

        $intake = $this->takeIn();
        $this->database()->executeStatement("UPDATE intake SET state = 'running' WHERE id = ?", [$intake->id()]);
        $stale = $this->again($intake);
        $this->database()->executeStatement("UPDATE intake SET state = 'done' WHERE id = ?", [$intake->id()]);
        try {
            $this->get(Intakes::class)->pause($stale);
            self::fail('It is over.');
        } catch (IntakeRefused $e) {
            self::assertStringContainsString('it is done', $e->getMessage());
        }
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
    }

    public function testNothingIsEditedOrStartedOnASheetThatIsSettled(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        // another process settles it: this one has it in hand as a sheet
        $this->database()->executeStatement(
            "UPDATE intake SET state = 'waiting', started_at = date_trunc('second', now())",
        );
        foreach ([
            fn () => $this->get(Intakes::class)->settle($intake, true),
            fn () => $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Too late']),
        ] as $late) {
            try {
                $late();
                self::fail('Its names are settled.');
            } catch (SheetRefused $e) {
                self::assertStringContainsString('its names are settled', $e->getMessage());
            }
        }
    }

    /** Several processes read, settle and copy one card at once. */
    public function testOneCardIsReadAndTakenInOnceByWhoeverComesTogether(): void
    {
        $place = new TrialPlace($this->folder.'/place', 4, new \Random\Randomizer(new \Random\Engine\Mt19937(7)));
        $workers = [ConsoleProcess::intake($place), ConsoleProcess::intake($place), ConsoleProcess::intake($place)];
        self::assertSame([0, 0, 0], array_map(static fn (ConsoleProcess $worker): int => $worker->wait(), $workers));
        self::assertSame([], $place->losses());
        self::assertSame(4, $this->database()->fetchOne('SELECT count(*) FROM filed_file'));
    }

    /** The twin goes when its copies have their names and are not set down yet: they lie on it, not beneath. */
    public function testCopiesAreOfTheDriveThatTheyWereVerifiedOn(): void
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        TestDrives::$isOff = function (): bool {
            if (3 === \count((array) glob($this->folder.'/twin/*/*/*.jpg'))) {
                TestDrives::$as = [$this->folder.'/twin' => 'the disk beneath'];
            }

            return false;
        };
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        [TestDrives::$as, TestDrives::$isOff] = [[], null];
        self::assertSame(
            [['whole', 3]],
            $this->database()->fetchAllNumeric(
                "SELECT c.state, count(*) FROM filed_copy c JOIN place p ON p.id = c.place_id
                    WHERE p.root LIKE '%/twin' AND p.drive <> 'the disk beneath' GROUP BY 1",
            ),
        );
        self::assertSame(
            0,
            $this->database()->fetchOne(
                "SELECT count(*) FROM filed_copy c JOIN place p ON p.id = c.place_id
                    WHERE p.drive = 'the disk beneath'",
            ),
        );
    }

    /** A worker that comes while another one is choosing finds nothing free at that moment, and stays. */
    public function testAWorkerThatComesWhileAnotherOneChoosesStays(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $other = DriverManager::getConnection($this->database()->getParams());
        $other->beginTransaction();
        $other->executeStatement('SELECT FROM transfer FOR UPDATE');
        $hand = $this->hand($intake);
        $hand->start();
        // the last thing that its session asked is whether there is more to come
        $asked = "SELECT count(*) FROM pg_stat_activity WHERE pid <> pg_backend_pid() AND query LIKE '%AS any'";
        while (0 === $this->database()->fetchOne($asked)) {
            self::assertTrue($hand->isRunning(), 'it left');
            usleep(1_000);
        }
        $other->rollBack();
        $other->close();
        self::assertSame(0, $hand->wait(), $hand->getErrorOutput());
        self::assertCount(1, $this->tree('shelf'));
    }

    /** Two processes file a picture and its voice note at the same moment: it is one frame. */
    public function testFilesOfOneFrameThatAreFiledAtOnceAreOneFrame(): void
    {
        $picture = $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        // so large that it is claimed by itself
        file_put_contents($picture, str_repeat("\0", 17_000_000), \FILE_APPEND);
        $this->file('card/DCIM/100/T0001.WAV', 'RIFF....WAVE');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        // each of them waits here before it makes a frame
        $gate = 4711;
        $this->database()->executeStatement(
            "CREATE OR REPLACE FUNCTION wait_at_gate() RETURNS trigger LANGUAGE plpgsql
                AS 'BEGIN PERFORM pg_advisory_xact_lock_shared($gate); RETURN NEW; END';
            CREATE OR REPLACE TRIGGER gate BEFORE INSERT ON filed_frame EXECUTE FUNCTION wait_at_gate();
            SELECT pg_advisory_lock($gate)",
        );
        try {
            $hands = [$this->hand($intake), $this->hand($intake)];
            array_map(static fn (Process $hand) => $hand->start(), $hands);
            $waiting = 'SELECT count(DISTINCT pid) FROM pg_locks WHERE NOT granted';
            while (2 !== $this->database()->fetchOne($waiting)) {
                foreach ($hands as $hand) {
                    self::assertTrue($hand->isRunning(), $hand->getErrorOutput());
                }
                usleep(10_000);
            }
        } finally {
            $this->database()->executeStatement(
                "SELECT pg_advisory_unlock($gate); DROP TRIGGER gate ON filed_frame; DROP FUNCTION wait_at_gate()",
            );
        }
        self::assertSame([0, 0], array_map(static fn (Process $hand): int => $hand->wait(), $hands));
        self::assertSame(2, $this->database()->fetchOne('SELECT count(*) FROM filed_file'));
        self::assertSame(1, $this->database()->fetchOne('SELECT count(*) FROM filed_frame'));
    }

    /**
     * A card of the same label, names and sizes comes while the intake is halted: nothing of it is filed under this
     * receipt.
     */
    public function testAHaltedIntakeGoesOnWithItsOwnCardOnly(): void
    {
        foreach ([1, 2, 3, 4] as $n) {
            $path = $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
            touch($path, 1_777_716_000);
        }
        exec('cp -a '.escapeshellarg($this->folder.'/card').' '.escapeshellarg($this->folder.'/other'));
        foreach ((array) glob($this->folder.'/other/DCIM/100/*') as $path) {
            $path = (string) $path;
            file_put_contents($path, strrev((string) file_get_contents($path)));
            touch($path, 1_777_716_000);
        }
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        $copied = 0;
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives, function () use (&$copied): void {
            if (3 === ++$copied) {
                rename($this->folder.'/card', $this->folder.'/out');
            }
        });
        self::assertCount(2, $this->tree('shelf'));
        rename($this->folder.'/other', $this->folder.'/card');
        $this->get(\Velvet\Server\Work\Intakes\Interrupted::class)->takeUp();
        self::assertSame(IntakeState::Paused, $this->again($intake)->state, 'another card is in: it goes on waiting');
        $this->get(Intakes::class)->resume($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertStringContainsString(
            'is not the card card that this intake began with',
            (string) $this->again($intake)->halted,
        );
        self::assertCount(2, $this->tree('shelf'));
        rename($this->folder.'/card', $this->folder.'/other');
        rename($this->folder.'/out', $this->folder.'/card');
        $this->get(\Velvet\Server\Work\Intakes\Interrupted::class)->takeUp();
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::PauseForDrives);
        self::assertSame(IntakeState::Done, $this->again($intake)->state);
        self::assertSame(
            ['filed'],
            array_values(array_unique(array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'state'))),
        );
    }

    /** After a restart devices may be numbered anew: an intake remembers what its drives are. */
    public function testAnIntakeRemembersItsDrivesByWhatTheyAre(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        self::assertEquals(
            [
                $this->folder.'/shelf' => 'simulated:'.$this->folder.'/shelf',
                $this->folder.'/twin' => 'simulated:'.$this->folder.'/twin',
            ],
            array_map(static fn (array $drive): string => $drive['id'], $this->again($intake)->drives),
        );
    }

    /** Folders are compared as they really are: dots, slashes and links lead nowhere else. */
    public function testNoShelfLiesOnACardOrAmongTheSystemsOwnFiles(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->readCard();
        symlink($this->folder.'/card', $this->folder.'/link');
        foreach ([
            'card',
            'card/.',
            './card',
            '/card/',
            'card/DCIM',
            'link',
            'link/new',
            'card//new/deep',
            'shelf/../card/x',
        ] as $path) {
            $this->refusesShelf($this->folder.'/'.$path, '/cards are never written to/');
        }
        self::assertSame(['DCIM/100/T0001.JPG'], $this->tree('card'), 'not even a folder was made on it');
        foreach ([
            '/',
            '/etc',
            '/etc/velvet',
            '/usr/share/pictures',
            '/proc',
            '/home',
            '/tmp',
            '/var',
            '/var/lib/postgresql',
            '/dev',
            '//etc//',
            '/tmp/../etc',
        ] as $path) {
            $this->refusesShelf($path, '/belongs to the computer itself|lie one inside the other/');
        }
        $home = getenv('VELVET_HOME');
        self::assertIsString($home);
        foreach (['', '/db', '/db/base', '/pictures', '/log'] as $path) {
            $this->refusesShelf($home.$path, '/belongs to the computer itself/');
        }
    }

    private function refusesShelf(string $path, string $why): void
    {
        foreach ([[$path, null], [$this->folder.'/fine', $path]] as [$root, $twin]) {
            try {
                $this->get(Shelves::class)->at($root, $twin, []);
                self::fail($path);
            } catch (SheetRefused $e) {
                self::assertMatchesRegularExpression($why, $e->getMessage(), $path);
            }
        }
    }

    private function withMetadata(): Intake
    {
        $shelf = $this->get(Shelves::class)->known($this->folder.'/shelf');
        $intake = null === $shelf ? $this->sheet() : $this->get(Sheets::class)->open([$this->readCard()]);
        $intake->styleDocument = [
            'metadata' => [
                'texts' => [['field' => 'creator', 'pieces' => [['piece' => 'text', 'text' => 'Ines Varga-Holt']]]],
                'keywords' => [],
            ],
        ] + HouseStyle::standard()->toArray();
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

        return $this->again($intake);
    }

    private function named(Card $card, string $name): Intake
    {
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$card]);
        foreach ($intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => $name]);
        }

        return $intake;
    }

    private function card(): Card
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Card::class)->findOneBy([]) ?? self::fail('There is no card.');
    }

    /** A process that copies an intake's files; not begun yet. */
    private function hand(Intake $intake): Process
    {
        return new Process(
            [
                \PHP_BINARY, \dirname(__DIR__).'/bin/console', 'velvet:second-hand', (string) getmypid(),
            ],
            env: [TestDrives::FOLDER => $this->folder],
            input: $intake->id()."\n",
        );
    }
}
