<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Dng\RawFile;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\OutsideChange;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;
use Velvet\Server\Http\IntakeProgress;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Custody;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Dng\Conversions;
use Velvet\Server\Work\Dng\ConvertRaws;
use Velvet\Server\Work\Dng\ConvertRawsHandler;
use Velvet\Server\Work\Dng\ShootRaws;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\Interrupted;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Ledger\LedgerIndex;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\WordsChange;
use Velvet\Server\Work\Metadata\WriteMetadata;
use Velvet\Server\Work\Metadata\WriteMetadataHandler;
use Velvet\Server\Work\Sheets\SheetEdits;

/** Raw files become DNG while they are filed, and afterwards. exiftool and our own reader look at what came of it. */
final class DngTest extends ServerTestCase
{
    public function testDngsTakeThePlaceOfRawFilesThatStayOnTheCard(): void
    {
        $samples = [$this->raw('T0001', 1), $this->raw('T0002', 2)];
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:41');
        // what tests lay there that end in the middle of a conversion
        $before = is_dir(self::home().'/dng') ? (array) scandir(self::home().'/dng') : ['.', '..'];
        $intake = $this->takeInAs(DngChoice::Instead);
        self::assertSame(['1.dng', '1.jpg', '2.dng'], self::endings($this->tree('shelf')));
        self::assertSame($this->tree('shelf'), $this->tree('twin'), 'the raw files went from both places');
        foreach (['shelf', 'twin'] as $root) {
            self::assertSame(
                $samples,
                array_map(
                    fn (string $path): string => self::samplesOf($this->folder.'/'.$root.'/'.$path),
                    $this->ending('dng'),
                ),
            );
        }
        self::assertSame(
            ['T0001.TRW', 'Tarn Optical', '© 2026 Ines Varga-Holt'],
            array_map(
                fn (string $tag): string => trim(
                    (string) shell_exec(
                        'exiftool -s3 -'.$tag.' '.escapeshellarg($this->folder.'/shelf/'.$this->ending('dng')[0]),
                    ),
                ),
                ['OriginalRawFileName', 'Make', 'XMP-dc:Rights'],
            ),
        );
        self::assertSame(
            'T0001.TRW',
            trim(
                (string) shell_exec(
                    'exiftool -s3 -PreservedFileName '.escapeshellarg($this->folder.'/shelf/'.$this->ending('dng')[0]),
                ),
            ),
        );
        self::assertSame(
            [],
            array_values(array_diff((array) scandir(self::home().'/dng'), $before)),
            'nothing lies about',
        );
        $this->allIsAsTheLedgerHasIt();
        // each frame is verified in two places
        self::assertTrue($this->get(CardClearance::class)->of($intake->cards[0] ?? self::fail('No card.'))->cleared);
        $sum = $this->get(IntakeProgress::class)->dng($intake);
        self::assertSame([2, 2, 0], [$sum['wanted'] ?? null, $sum['made'] ?? null, $sum['refused'] ?? null]);
        self::assertSame(
            \strlen(
                file_get_contents(
                    $this->folder.'/card/DCIM/100/T0001.TRW',
                ).file_get_contents($this->folder.'/card/DCIM/100/T0002.TRW'),
            ),
            $sum['bytes_before'] ?? null,
        );
        // and the raw file on the card is known: it is not copied again
        $this->entities()->clear();
        $again = $this->sheetAs(DngChoice::Instead);
        self::assertSame(
            [['filed', 'filed']],
            array_map(static fn (array $frames): array => array_column($frames, 'state'), [$this->frames($again)]),
        );
        $line = $this->database()->fetchOne(
            "SELECT details FROM ledger_line WHERE event = 'dng_made'
                AND details::jsonb ->> 'from' = 'DCIM/100/T0001.TRW'",
        );
        self::assertIsString($line);
        self::assertStringContainsString('"samples":"md5:'.$samples[0].'"', $line);
        self::assertContains('raw_left', array_column($this->get(Custody::class)->ofFrame(1), 'event'));
    }

    public function testDngsLieBesideRawFilesAndSayWhatTheirFrameSays(): void
    {
        $samples = $this->raw('T0001', 1);
        $intake = $this->takeInAs(DngChoice::Beside);
        self::assertSame(['1.dng', '1.trw', '1.xmp'], self::endings($this->tree('shelf')));
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        self::assertFileEquals(
            $this->folder.'/card/DCIM/100/T0001.TRW',
            $this->folder.'/twin/'.$this->ending('trw')[0],
        );
        self::assertSame($samples, self::samplesOf($this->folder.'/twin/'.$this->ending('dng')[0]));
        self::assertSame(
            '© 2026 Ines Varga-Holt',
            trim(
                (string) shell_exec(
                    'exiftool -s3 -XMP-dc:Rights '.escapeshellarg($this->folder.'/shelf/'.$this->ending('dng')[0]),
                ),
            ),
        );
        $this->allIsAsTheLedgerHasIt();
        $lines = $this->get(Receipts::class)->ofIntake($intake->id());
        self::assertSame(['', 'DNG of the raw file, every pixel value checked'], array_column($lines, 'note'));
        // changed afterwards, all of them follow
        $this->get(ShootMetadata::class)->change(
            1,
            [1],
            new WordsChange(['headline' => 'First boat'], [KeywordPath::typed('boats')]),
        );
        $this->follow();
        foreach (['dng', 'xmp'] as $kind) {
            self::assertSame(
                'First boat',
                trim(
                    (string) shell_exec(
                        'exiftool -s3 -Headline '.escapeshellarg($this->folder.'/twin/'.$this->ending($kind)[0]),
                    ),
                ),
            );
        }
        $this->allIsAsTheLedgerHasIt();
    }

    public function testLaterARawFileGoesIntoItsDngAndComesOutAgain(): void
    {
        $samples = $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::No);
        self::assertSame(['1.trw', '1.xmp'], self::endings($this->tree('shelf')));
        $raws = $this->get(ShootRaws::class);
        self::assertSame(['raws' => 1, 'inside' => 0, 'made' => 0, 'waiting' => 0, 'refused' => []], $raws->of(1, [1]));
        $raws->convert(1, [1], DngChoice::Embed);
        self::assertSame(1, $raws->left());
        $this->follow();
        self::assertSame(
            ['1.dng', '1.xmp'],
            self::endings($this->tree('shelf')),
            'a sidecar may hold what another program wrote',
        );
        self::assertSame($samples, self::samplesOf($this->folder.'/twin/'.$this->ending('dng')[0]));
        self::assertSame(
            '© 2026 Ines Varga-Holt',
            trim(
                (string) shell_exec(
                    'exiftool -s3 -XMP-dc:Rights '.escapeshellarg($this->folder.'/shelf/'.$this->ending('dng')[0]),
                ),
            ),
        );
        $this->allIsAsTheLedgerHasIt();
        self::assertSame(['raws' => 0, 'inside' => 1, 'made' => 1, 'waiting' => 0, 'refused' => []], $raws->of(1, [1]));
        // what is written into the DNG leaves the raw file within it as it is
        $this->get(ShootMetadata::class)->change(1, [1], new WordsChange(['headline' => 'First boat']));
        $this->follow();
        $raws->takeOut(1, [1]);
        $this->follow();
        self::assertSame(['1.dng', '1.trw', '1.xmp'], self::endings($this->tree('twin')));
        self::assertFileEquals(
            $this->folder.'/card/DCIM/100/T0001.TRW',
            $this->folder.'/shelf/'.$this->ending('trw')[0],
        );
        self::assertSame(
            'First boat',
            trim(
                (string) shell_exec(
                    'exiftool -s3 -Headline '.escapeshellarg($this->folder.'/twin/'.$this->ending('xmp')[0]),
                ),
            ),
        );
        $this->allIsAsTheLedgerHasIt();
        self::assertSame(
            ['raws' => 0, 'inside' => 0, 'made' => 1, 'waiting' => 0, 'refused' => []],
            $raws->of(1, [1]),
            'its DNG is there',
        );
    }

    /** @param \Closure(string): string $damaged */
    #[DataProvider('unfit')]
    public function testWhatCannotBeConvertedIsFiledAsItWasWithASentence(
        string $name,
        \Closure $damaged,
        string $reason,
    ): void {
        $this->raw('T0001', 1);
        $raw = $this->folder.'/card/DCIM/100/T0001.TRW';
        $this->file('card/DCIM/100/'.$name, $damaged((string) file_get_contents($raw)));
        $this->raw('T0002', 2);
        if ('T0001.TRW' !== $name) {
            unlink($raw);
        }
        $intake = $this->takeInAs(DngChoice::Instead, false);
        $extension = strtolower(pathinfo($name, \PATHINFO_EXTENSION));
        self::assertFileEquals(
            $this->folder.'/card/DCIM/100/'.$name,
            $this->folder.'/twin/'.$this->ending($extension)[0],
        );
        self::assertCount(1, $this->ending('dng'), 'the other one became DNG');
        $remarks = $this->get(IntakeProgress::class)->of($intake)['remarks'];
        self::assertIsArray($remarks);
        $said = implode(' ', array_filter($remarks, is_string(...)));
        self::assertStringContainsString('was not converted: ', $said);
        self::assertStringContainsString($reason, $said);
        $this->allIsAsTheLedgerHasIt();
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
    }

    /** @return iterable<string, array{string, \Closure(string): string, string}> */
    public static function unfit(): iterable
    {
        yield 'cut short' => [
            'T0001.TRW',
            static fn (string $raw): string => substr($raw, 0, 3000).substr($raw, 3000, -900),
            'it cannot be read',
        ];
        yield 'a JPEG called raw' => [
            'T0003.NEF',
            static fn (): string => Jpeg::of('T0003.NEF', '2026:05:02 19:31:44'),
            'LibRaw says, unsupported file format or not RAW file',
        ];
    }

    public function testANameThatIsTakenKeepsTheRawFile(): void
    {
        $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::No);
        $taken = preg_replace('/trw$/', 'dng', $this->ending('trw')[0]);
        $this->file('twin/'.$taken, 'somebody else’s');
        $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Embed);
        $this->follow();
        self::assertCount(1, $this->ending('trw'));
        self::assertSame([], $this->ending('dng'), 'none on the shelf');
        self::assertSame('somebody else’s', file_get_contents($this->folder.'/twin/'.$taken));
        self::assertStringContainsString(
            'another file has the name',
            $this->get(ShootRaws::class)->of(1, [1])['refused'][0] ?? '',
        );
    }

    public function testWhereThereIsNoRoomForADngTheRawFileStays(): void
    {
        if (0 !== posix_geteuid()) {
            self::markTestSkipped('Only root may mount a small drive.');
        }
        mkdir($this->folder.'/twin');
        exec('mount -t tmpfs -o size=80m tmpfs '.escapeshellarg($this->folder.'/twin'));
        try {
            $this->raw('T0001', 1);
            $this->takeInAs(DngChoice::No);
            exec('dd if=/dev/zero of='.escapeshellarg($this->folder.'/twin/.ballast').' bs=1M 2> /dev/null');
            $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Embed);
            $this->follow();
            self::assertStringContainsString(
                '0001.trw was not converted: ',
                $this->get(ShootRaws::class)->of(1, [1])['refused'][0] ?? '',
            );
            self::assertStringContainsString('full', $this->get(ShootRaws::class)->of(1, [1])['refused'][0] ?? '');
            self::assertSame(['1.trw', '1.xmp'], self::endings($this->tree('shelf')), 'nothing half there');
            self::assertFileEquals(
                $this->folder.'/card/DCIM/100/T0001.TRW',
                $this->folder.'/twin/'.$this->ending('trw')[0],
            );
            unlink($this->folder.'/twin/.ballast');
            $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Embed);
            $this->follow();
            self::assertSame(['1.dng', '1.xmp'], self::endings($this->tree('twin')));
        } finally {
            exec('umount -l '.escapeshellarg($this->folder.'/twin'));
        }
    }

    /** The twin's drive goes when it has the DNG, before that is set down: the raw file stays until both have it. */
    #[TestWith([0])]
    #[TestWith([1])]
    public function testADngIsFiledWhenAllOfItsPlacesAreSetDown(int $looks): void
    {
        $this->raw('T0001', 1);
        TestDrives::goesOnce($this->folder.'/twin', function () use (&$happened): bool {
            return $happened = \in_array('1.dng', self::endings($this->tree('twin')), true);
        }, $looks);
        $intake = $this->takeInAs(DngChoice::Instead);
        self::assertTrue($happened);
        if (IntakeState::Paused === $intake->state) {
            $this->get(Intakes::class)->resume($intake);
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        }
        self::assertSame(['1.dng'], self::endings($this->tree('twin')));
        self::assertSame(
            [2],
            $this->database()->fetchFirstColumn(
                "SELECT count(*) FROM filed_copy c JOIN filed_file f ON f.id = c.file_id WHERE c.state = 'whole'
                    AND c.digest = f.digest_now",
            ),
        );
        $this->allIsAsTheLedgerHasIt();
    }

    /**
     * What became of a DNG's copies is put right from the raw file on the card: it is a DNG again, whole in both
     * places.
     *
     * @param list<string> $lost    roots whose copy is gone
     * @param list<string> $damaged roots whose copy is another one
     */
    #[TestWith([['twin'], []])]
    #[TestWith([[], ['shelf']])]
    #[TestWith([['shelf', 'twin'], []])]
    #[TestWith([['twin'], ['shelf']])]
    public function testADngIsRepairedFromItsRawFileOnTheCard(array $lost, array $damaged): void
    {
        $samples = $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::Instead);
        [$path] = $this->ending('dng');
        foreach ($lost as $root) {
            unlink($this->folder.'/'.$root.'/'.$path);
        }
        foreach ($damaged as $root) {
            file_put_contents($this->folder.'/'.$root.'/'.$path, 'damaged');
        }
        $this->entities()->clear();
        $intake = $this->takeInAs(DngChoice::No);
        $this->follow();
        foreach (['shelf', 'twin'] as $root) {
            self::assertSame($samples, self::samplesOf($this->folder.'/'.$root.'/'.$path));
            self::assertSame('1.4.0.0', trim(
                (string) shell_exec('exiftool -s3 -DNGVersion '.escapeshellarg($this->folder.'/'.$root.'/'.$path)),
            ));
            self::assertSame(
                \in_array($root, $damaged, true) ? ['1.dng', $path.'.damaged-1'] : ['1.dng'],
                array_map(
                    static fn (string $file): string => str_ends_with($file, '-1') ? $file : self::endings([$file])[0],
                    $this->tree($root),
                ),
            );
        }
        self::assertFileEquals($this->folder.'/shelf/'.$path, $this->folder.'/twin/'.$path);
        self::assertStringContainsString('Ines Varga-Holt', (string) file_get_contents($this->folder.'/twin/'.$path));
        $check = $this->get(LedgerCheck::class)->of(null, static function (): void {});
        self::assertSame([[], []], [$check->changed, $check->missing]);
        self::assertSame(FileKind::Dng, $this->get(FiledFiles::class)->get(1)->kind());
        self::assertTrue($this->get(CardClearance::class)->of($intake->cards[0] ?? self::fail('No card.'))->cleared);
    }

    /** Somebody put the copy back between the sheet and the copy: what is whole is not put aside. */
    public function testWhatWasPutRightMeanwhileIsLeftAlone(): void
    {
        $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::Instead);
        [$path] = $this->ending('dng');
        rename($this->folder.'/twin/'.$path, $this->folder.'/kept');
        $this->entities()->clear();
        $intake = $this->sheetAs(DngChoice::Instead);
        $this->get(Intakes::class)->settle($intake, false);
        rename($this->folder.'/kept', $this->folder.'/twin/'.$path);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame([[$path], [$path]], [$this->tree('shelf'), $this->tree('twin')]);
        self::assertSame(
            ['same'],
            $this->database()->fetchFirstColumn('SELECT state FROM transfer WHERE repairs_file_id IS NOT NULL'),
        );
        $this->allIsAsTheLedgerHasIt();
    }

    /** Another worker's DNG takes the raw file's place just while the card is compared with the ledger. */
    public function testAFrameIsKnownWhileItBecomesADng(): void
    {
        $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::No);
        [$raw] = $this->ending('trw');
        $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Instead);
        $this->entities()->clear();
        TestDrives::$isOff = function (): bool {
            TestDrives::$isOff = null;
            $this->follow();

            return false;
        };
        $index = $this->get(LedgerIndex::class);
        [$copy] = $index->like(Fingerprint::of(FileBytes::open($this->folder.'/card/DCIM/100/T0001.TRW')));
        self::assertFileDoesNotExist($this->folder.'/shelf/'.$raw, 'it is another file by now');
        self::assertSame([true, false], [$copy->isThere(), $copy->needsRepair()]);
    }

    public function testAfterACrashTheRawFileLeavesStill(): void
    {
        $this->raw('T0001', 1);
        $intake = $this->takeInAs(DngChoice::Instead);
        // as if the program had died between filing the DNG and taking the raw file's copies away
        $raw = preg_replace('/dng$/', 'trw', $this->ending('dng')[0]);
        foreach (['shelf', 'twin'] as $root) {
            copy($this->folder.'/card/DCIM/100/T0001.TRW', $this->folder.'/'.$root.'/'.$raw);
        }
        $this->database()->executeStatement("UPDATE filed_file SET dng_state = 'leaving'");
        $this->follow();
        self::assertSame(['1.dng'], self::endings($this->tree('shelf')));
        self::assertSame(['1.dng'], self::endings($this->tree('twin')));
        // but a DNG that is not there any more holds it back
        copy($this->folder.'/card/DCIM/100/T0001.TRW', $this->folder.'/twin/'.$raw);
        unlink($this->folder.'/twin/'.$this->ending('dng')[0]);
        $this->database()->executeStatement("UPDATE filed_file SET dng_state = 'leaving'");
        $this->follow();
        self::assertFileExists($this->folder.'/twin/'.$raw);
        self::assertGreaterThan(0, $intake->id());
    }

    public function testWhatWasBegunIsLetGoWhenAnIntakeIsPausedAndDoneLater(): void
    {
        $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::No);
        $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Beside);
        $conversions = $this->get(Conversions::class);
        self::assertTrue($conversions->step(null));
        self::assertTrue($conversions->areUnderWay());
        $conversions->stop();
        self::assertFalse($conversions->areUnderWay());
        self::assertSame(
            '0',
            (string) shell_exec('pgrep -fc '.escapeshellarg('dng-one.*'.$this->folder.'/[s]helf').' | tr -d "\n"'),
            'no process is left',
        );
        $this->follow();
        self::assertCount(1, $this->ending('dng'));
    }

    public function testWhatWasLeftUndoneIsTakenUpAgainAndWhatIsUnsettledWaits(): void
    {
        $this->raw('T0001', 1);
        $this->takeInAs(DngChoice::No);
        $this->get(ShootRaws::class)->convert(1, [1], DngChoice::Beside);
        $transport = self::getContainer()->get('messenger.transport.copies');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $transport->reset();
        $this->get(Interrupted::class)->takeUp(); // as after a restart
        self::assertEquals(
            [new ConvertRaws()],
            array_map(static fn (Envelope $sent): object => $sent->getMessage(), $transport->getSent()),
        );
        // another program changed the sidecar: nothing happens before it is said whose is to stay
        $this->database()->executeStatement(
            'UPDATE filed_file SET outside = :change',
            ['change' => json_encode(self::outside()->toArray(), \JSON_THROW_ON_ERROR)],
        );
        $this->follow();
        self::assertSame([], $this->ending('dng'));
        self::assertStringContainsString(
            'it is not settled yet what holds',
            $this->get(ShootRaws::class)->of(1, [1])['refused'][0] ?? '',
        );
    }

    public function testAnEntryChoosesOtherwise(): void
    {
        $this->raw('T0001', 1);
        $intake = $this->sheetAs(DngChoice::No);
        $this->get(SheetEdits::class)->convert($intake, 1, DngChoice::Beside);
        $response = json_decode(
            (string) $this->request('GET', '/api/sheets/'.$intake->id().'/entries/1/frames')->getContent(),
            true,
        );
        self::assertIsArray($response);
        self::assertIsArray($response['frames']);
        self::assertIsArray($response['frames'][0]);
        self::assertSame(
            ['trw', 'dng'],
            array_map(
                static fn (mixed $path): string => pathinfo(\is_string($path) ? $path : '', \PATHINFO_EXTENSION),
                (array) $response['frames'][0]['to'],
            ),
        );
        $intake = $this->again($intake);
        $this->get(SheetEdits::class)->undo($intake);
        self::assertSame('', $intake->entries[0]->dng ?? null);
        $this->get(SheetEdits::class)->redo($intake);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(['1.dng', '1.trw', '1.xmp'], self::endings($this->tree('twin')));
    }

    private function takeInAs(DngChoice $choice, bool $says = true): Intake
    {
        $intake = $this->sheetAs($choice, $says);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

        return $this->again($intake);
    }

    private function sheetAs(DngChoice $choice, bool $says = true): Intake
    {
        $intake = $this->sheet();
        $intake->styleDocument = [
            'dng' => $choice->value,
            'metadata' => [
                'texts' => $says ? [
                    ['field' => 'copyright', 'pieces' => [['piece' => 'text', 'text' => '© 2026 Ines Varga-Holt']]],
                ] : [],
            ],
        ] + HouseStyle::standard()->toArray();
        $this->entities()->flush();

        return $intake;
    }

    /** Does in the background what is to be done. */
    private function follow(): void
    {
        $this->get(ConvertRawsHandler::class)(new ConvertRaws());
        $this->get(WriteMetadataHandler::class)(new WriteMetadata());
    }

    /** @return list<array<string, mixed>> */
    private function frames(Intake $intake): array
    {
        $response = json_decode(
            (string) $this->request('GET', '/api/sheets/'.$intake->id().'/entries/1/frames')->getContent(),
            true,
        );
        self::assertIsArray($response);
        self::assertIsArray($response['frames']);

        /** @var list<array<string, mixed>> */
        return array_values($response['frames']);
    }

    private function allIsAsTheLedgerHasIt(): void
    {
        $check = $this->get(LedgerCheck::class)->of(null, static function (): void {});
        self::assertSame([[], [], []], [$check->changed, $check->missing, $check->unknown]);
    }

    /** A raw file of the demo's camera. @return string MD5 of its samples */
    private function raw(string $name, int $seed): string
    {
        $picture = Picture::perlin(96, 64, 16, $seed)->times(100, 128);
        $path = $this->file(
            'card/DCIM/100/'.$name.'.TRW',
            FrameFiles::raw(
                $picture->join($picture)->join($picture)->finished(),
                new Exposure(
                    new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA'),
                    \sprintf('2026:05:02 19:31:%02d', 40 + $seed),
                    $seed,
                    [1, 250],
                    [28, 10],
                    800,
                    50,
                ),
            ),
        );

        return self::samplesOf($path);
    }

    private static function samplesOf(string $path): string
    {
        return bin2hex(RawFile::open(FileBytes::open($path))->image()->digest());
    }

    /** @return list<string> files on the shelf, relative to it */
    private function ending(string $extension): array
    {
        return array_values(
            array_filter($this->tree('shelf'), static fn (string $path): bool => str_ends_with($path, '.'.$extension)),
        );
    }

    /**
     * @param list<string> $paths
     *
     * @return list<string> last digit and extension
     */
    private static function endings(array $paths): array
    {
        return array_map(static fn (string $path): string => substr($path, (int) strrpos($path, '.') - 1), $paths);
    }

    private static function home(): string
    {
        $home = getenv('VELVET_HOME');

        return \is_string($home) ? $home : self::fail('No home.');
    }

    private static function outside(): OutsideChange
    {
        $content = new Content(Digest::ofBytes('theirs'), 6);

        return new OutsideChange('/shelf', 'a.trw', $content, 0, new Metadata(), false);
    }
}
