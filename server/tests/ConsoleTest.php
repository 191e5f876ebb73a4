<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Exception\ExceptionInterface;
use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Output\BufferedOutput;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\Process\Process;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Console\Say;
use Velvet\Server\Console\SecondHand;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Intakes\Intakes;

/** The headless commands, as the contract that scripts rely on spells them. */
final class ConsoleTest extends ServerTestCase
{
    public function testCardTellsFramesWithTheirFacts(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->file('card/DCIM/100/T0001.WAV', 'spoken');
        $this->file('card/DCIM/100/T0009.MOV', 'moving');
        $this->file('card/DCIM/100/M0100.CTG', 'catalogue');
        [$status, $card] = $this->command('card', []);
        self::assertSame(0, $status);
        self::assertIsArray($card['card']);
        self::assertSame(
            ['label' => 'card', 'files' => 4, 'frames' => 2],
            array_diff_key($card['card'], ['bytes' => 0]),
        );
        $frame = $this->first($card, 'frames');
        self::assertIsArray($frame['files']);
        self::assertSame(
            [['DCIM/100/T0001.JPG', 'jpeg'], ['DCIM/100/T0001.WAV', 'audio']],
            array_map(
                static fn (mixed $file): array => \is_array($file) ? [$file['path'], $file['kind']] : [],
                $frame['files'],
            ),
        );
        foreach ([
            'captured_at',
            'captured_from',
            'offset',
            'make',
            'model',
            'serial',
            'lens',
            'exposure_s',
            'f_number',
            'iso',
            'focal_mm',
            'width',
            'height',
            'orientation',
            'rating',
            'problems',
        ] as $fact) {
            self::assertArrayHasKey($fact, $frame);
        }
        self::assertSame(
            ['2026-05-02T19:31:40', 24, 16, 'Tarn Optical'],
            [$frame['captured_at'], $frame['width'], $frame['height'], $frame['make']],
        );
        self::assertSame('DCIM/100/M0100.CTG', $this->first($card, 'others')['path']);
    }

    public function testRawFilesBecomeDng(): void
    {
        $raw = $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $jpeg = $this->shot('DCIM/100/T0002.NEF', '2026:05:02 19:31:40'); // a JPEG under a raw file's name
        self::assertNotNull(self::$kernel);
        $tester = new CommandTester((new Application(self::$kernel))->find('velvet:dng'));
        $status = $tester->execute(
            ['file' => [$raw, $jpeg], '--to' => $this->folder.'/dng', '--json' => true],
            ['capture_stderr_separately' => true],
        );
        $done = json_decode($tester->getDisplay(), true);
        self::assertSame(1, $status, 'one of them was left undone');
        self::assertIsArray($done);
        self::assertIsArray($done['files']);
        self::assertSame([true, false], array_column($done['files'], 'samples_verified'));
        self::assertSame([null, 'is'], array_map(
            static fn (mixed $file): ?string => \is_array($file) && \is_string($file['why_not']) ? 'is' : null,
            $done['files'],
        ));
        self::assertSame(filesize($this->folder.'/dng/T0001.dng'), $this->first($done, 'files')['bytes_after']);
        self::assertStringContainsString(
            'T0002.NEF was not converted and stays as it is: its raw image is of a kind that is not converted: '
                .'LibRaw says, unsupported file format or not RAW file.',
            $tester->getErrorOutput(),
        );
        self::assertSame(['T0001.dng'], $this->tree('dng'));

        // the way back
        self::assertSame(0, $tester->execute(['file' => [$raw], '--to' => $this->folder.'/whole', '--embed' => true]));
        $status = $tester->execute(
            [
                'file' => [$this->folder.'/whole/T0001.dng', $this->folder.'/dng/T0001.dng'],
                '--to' => $this->folder.'/out',
                '--take-out' => true,
            ],
            ['capture_stderr_separately' => true],
        );
        self::assertSame(1, $status, 'one has nothing inside');
        self::assertFileEquals($raw, $this->folder.'/out/T0001.TRW');
        self::assertStringContainsString('1 of 2 raw files taken out, bit for bit.', $tester->getDisplay());
        self::assertStringContainsString('dng/T0001.dng: there is no camera file within.', $tester->getErrorOutput());
    }

    public function testPlanWritesNothingAndTellsWhatIntakeThenDoes(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 23:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:03 01:31:40');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:03 12:00:00');
        $options = [
            '--shelf' => $this->folder.'/shelf',
            '--twin' => $this->folder.'/twin',
            '--name' => 'Lantern Regatta',
        ];
        [$status, $plan] = $this->command('plan', $options);
        self::assertSame(0, $status);
        self::assertDirectoryDoesNotExist($this->folder.'/shelf');
        self::assertSame(0, $this->database()->fetchOne('SELECT count(*) FROM card'));
        self::assertIsArray($plan['entries']);
        self::assertSame(
            ['2026/2026-05-02 Lantern Regatta', '2026/2026-05-03 Lantern Regatta'],
            array_column($plan['entries'], 'folder'),
        );
        self::assertSame(
            ['number', 'name', 'folder', 'first', 'last', 'frames'],
            array_keys($this->first($plan, 'entries')),
        );

        [$status, $done] = $this->command('intake', $options);
        self::assertSame(0, $status);
        self::assertSame(
            [3, 0, 0, true, []],
            [$done['copied'], $done['already_filed'], $done['failed'], $done['cleared'], $done['why_not_cleared']],
        );
        self::assertSame($this->names($plan), $this->names($done), 'the plan and the copy agree');
        self::assertSame(array_merge(...array_column($this->names($done), 'to')), $this->tree('twin'));
        $frame = $this->first($this->first($done, 'entries'), 'frames');
        self::assertSame('copied', $frame['state']);
        $digest = $this->first($frame, 'destinations')['digest'];
        self::assertIsString($digest);
        self::assertMatchesRegularExpression('/^xxh128:[0-9a-f]{32}$/', $digest);
    }

    public function testASecondIntakeSaysWhatIsFiledAlready(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $options = ['--shelf' => $this->folder.'/shelf', '--twin' => $this->folder.'/twin', '--name' => 'Regatta'];
        $this->command('intake', $options);
        [, $plan] = $this->command('plan', $options);
        $frame = $this->first($this->first($plan, 'entries'), 'frames');
        self::assertSame(
            ['filed', '2026/2026-05-02 Regatta/2026-05-02_regatta_0001.jpg', []],
            [$frame['state'], $frame['same_as'], $frame['to']],
        );
        [$status, $again] = $this->command('intake', $options);
        self::assertSame([0, 0, 1], [$status, $again['copied'], $again['already_filed']]);
    }

    public function testWithoutATwinTheCardIsNotCleared(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        [$status, $done] = $this->command('intake', ['--shelf' => $this->folder.'/shelf', '--name' => 'Regatta']);
        self::assertSame(
            [0, false, ['1 frame is verified in one place only; a second copy is missing.']],
            [$status, $done['cleared'], $done['why_not_cleared']],
        );
    }

    public function testAStyleFromAFileIsFollowedByPlanAndIntake(): void
    {
        $this->file('card/DCIM/100/T0417.TRW', Samples::rawWithoutPreview());
        $this->shot('DCIM/100/T0417.JPG', '2026:05:02 19:31:40');
        $style = $this->file(
            'harbour.json',
            json_encode(
                [
                    'name' => 'Harbour',
                    'file' => [['piece' => 'original_name']],
                    'extension' => 'kept',
                    'subfolders' => ['raw' => 'capture'],
                ] + HouseStyle::standard()->toArray(),
                \JSON_THROW_ON_ERROR,
            ),
        );
        $options = [
            '--shelf' => $this->folder.'/shelf',
            '--twin' => $this->folder.'/twin',
            '--name' => 'Regatta',
            '--style' => $style,
            '--kinds' => 'raw',
        ];
        [, $plan] = $this->command('plan', $options);
        [$status, $done] = $this->command('intake', $options);
        self::assertSame(0, $status);
        self::assertSame([$this->names($plan)], [$this->names($done)]);
        self::assertSame(['2026/2026-05-02 Regatta/capture/T0417.TRW'], $this->tree('shelf'));
        self::assertFalse($done['cleared'], 'the JPEG is on the card only');
        self::assertSame(
            ['Standard'],
            array_column($this->get(Styles::class)->all(), 'name'),
            'a style from a file is not kept',
        );
        [, $both] = $this->command('intake', ['--kinds' => 'both'] + $options);
        self::assertSame([1, true], [$both['copied'], $both['cleared']]);
    }

    public function testTheOptionsStandOverTheStyle(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 15:00:00');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:03 01:00:00');
        self::assertSame(
            [1, 2, 3, 1],
            [
                $this->entries([]),
                $this->entries(['--day-starts' => '00:00']),
                $this->entries(['--break-after' => '240']),
                $this->entries(['--break-after' => 'never']),
            ],
        );
    }

    /** @param array<string, string> $options */
    private function entries(array $options): int
    {
        return \count((array) $this->command('plan', $options)[1]['entries']);
    }

    /** @param array<string, string> $options */
    #[DataProvider('mistakes')]
    public function testAMistakenCallIsRefusedInASentence(string $command, array $options, string $sentence): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        $this->expectException(ExceptionInterface::class);
        $this->expectExceptionMessage($sentence);
        $this->command($command, $options);
    }

    /** @return iterable<string, array{string, array<string, string>, string}> */
    public static function mistakes(): iterable
    {
        yield 'no shelf' => ['intake', [], 'Say where to: --shelf DIR.'];
        yield 'no time of day' => ['plan', ['--day-starts' => 'noon'], '“noon” is not a time of day'];
        yield 'no minutes' => ['plan', ['--break-after' => 'soon'], '“soon” is no number of minutes'];
        yield 'unknown style' => ['plan', ['--style' => 'Baroque'], 'There is no house style “Baroque”'];
        yield 'unknown kinds' => ['plan', ['--kinds' => 'film'], '“film” is no choice of kinds'];
        yield 'unknown option' => ['plan', ['--erase' => 'yes'], '"--erase" option does not exist'];
    }

    public function testAMissingCardAndAShelfOnTheCardFail(): void
    {
        mkdir($this->folder.'/card');
        $shelf = ['--shelf' => $this->folder.'/shelf'];
        foreach (['card' => [], 'plan' => $shelf, 'intake' => $shelf] as $name => $options) {
            [$status, $document] = $this->command($name, $options, $this->folder.'/gone');
            self::assertSame(1, $status, $name);
            self::assertIsString($document['refused'], $name);
            self::assertStringContainsString($this->folder.'/gone', $document['refused'], $name);
        }
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        [$status, $document] = $this->command('intake', ['--shelf' => $this->folder.'/card/shelf']);
        self::assertSame([1, ['refused']], [$status, array_keys($document)]);
        self::assertSame(['DCIM/100/T0001.JPG'], $this->tree('card'));
    }

    /** Contract: one JSON document on standard output, exit status 2 when called wrongly. */
    public function testAMistakenCallIsRefusedInJsonToo(): void
    {
        $call = \sprintf(
            '%s %s/bin/console velvet:intake %s --json 2>&3',
            \PHP_BINARY,
            \dirname(__DIR__),
            escapeshellarg($this->folder.'/card'),
        );
        exec('bash -c '.escapeshellarg('{ '.$call.'; } 3>'.escapeshellarg($this->folder.'/said')), $lines, $status);
        self::assertSame(2, $status);
        self::assertSame(
            ['refused' => 'Say where to: --shelf DIR.'],
            json_decode(implode("\n", $lines), true, 8, \JSON_THROW_ON_ERROR),
        );
        self::assertSame("Say where to: --shelf DIR.\n", file_get_contents($this->folder.'/said'));
    }

    public function testALargeCardIsCopiedByTwoProcesses(): void
    {
        foreach (range(1, 130) as $n) {
            $time = \sprintf('2026:05:02 10:%02d:%02d', intdiv($n, 60), $n % 60);
            $this->shot(\sprintf('DCIM/100/T%04d.JPG', $n), $time);
        }
        putenv(TestDrives::FOLDER.'='.$this->folder);
        try {
            [$status, $done] = $this->command('intake', $this->options() + ['--creator' => 'Ines Varga-Holt']);
        } finally {
            putenv(TestDrives::FOLDER);
        }
        self::assertSame([0, 130, 0, 0], [$status, $done['copied'], $done['failed'], $done['without_metadata']]);
        self::assertCount(130, $this->tree('shelf'));
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        self::assertSame(
            130,
            $this->database()->fetchOne("SELECT count(*) FROM ledger_line WHERE event = 'file_filed'"),
        );
        self::assertSame(
            range(1, 130),
            $this->database()->fetchFirstColumn('SELECT counter FROM filed_frame ORDER BY captured_at'),
            'in the order in which they were shot',
        );
        [, $said] = $this->said('verify', ['--json' => true]);
        $check = json_decode($said, true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($check);
        self::assertSame([260, 260], [$check['checked'] ?? null, $check['good'] ?? null]);
    }

    public function testTheSecondProcessCopiesUntilTheFirstOneIsGone(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        $intake = $this->sheet();
        $this->get(Intakes::class)->settle($intake, true);
        foreach ([1 => [1, 0], getmypid() => [0, 1]] as $helped => [$status, $filed]) {
            $process = new Process([
                \PHP_BINARY, \dirname(__DIR__).'/bin/console', 'velvet:second-hand', (string) $helped,
            ], env: [TestDrives::FOLDER => $this->folder], input: $intake->id()."\n");
            self::assertSame($status, $process->run(), $process->getErrorOutput());
            self::assertCount($filed, is_dir($this->folder.'/shelf') ? $this->tree('shelf') : []);
        }
    }

    public function testTheSecondProcessEndsWhereItIsToldOfNoIntake(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        $this->get(Intakes::class)->settle($this->sheet(), true);
        $hand = new SecondHand(\dirname(__DIR__, 2).'/server');
        $hand->makeReady(false);
        $hand->end();
        self::assertDirectoryDoesNotExist($this->folder.'/shelf/2026');
    }

    public function testAFileThatCannotBeWrittenIntoGetsASidecarAndWhatGotNoneIsLeftUndone(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 10:00:00');
        $broken = $this->shot('DCIM/100/T0002.JPG', '2026:05:02 10:00:01');
        $packet = "http://ns.adobe.com/xap/1.0/\0<x:xmpmeta xmlns:x='adobe:ns:meta/'><broken></x:xmpmeta>";
        $jpeg = (string) file_get_contents($broken);
        file_put_contents(
            $broken,
            substr($jpeg, 0, 2)."\xFF\xE1".pack('n', \strlen($packet) + 2).$packet.substr($jpeg, 2),
        );
        $intake = ['--shelf' => $this->folder.'/shelf', '--creator' => 'Ines Varga-Holt'];
        [$status, $document] = $this->command('intake', $intake);
        self::assertSame([0, 0], [$status, $document['without_metadata']]);
        $entry = $this->first($document, 'entries');
        self::assertIsArray($entry['frames']);
        [$none, $one] = array_column($entry['frames'], 'problems');
        self::assertSame([], $none);
        self::assertIsArray($one);
        self::assertMatchesRegularExpression(
            '/^T0002\.JPG was filed as it was received: its XMP packet is not well formed \(line 1.+\)\. What is said '
                .'of it is in a sidecar, 2026-05-02_0002\.jpg\.xmp\.$/',
            \is_string($one[0] ?? null) ? $one[0] : '',
        );
        // what is broken in a sidecar that came along is not said in yet another one
        $this->shot('DCIM/100/T0003.JPG', '2026:05:02 10:00:02');
        $sidecar = $this->file('card/DCIM/100/T0003.XMP', '<x:xmpmeta xmlns:x="adobe:ns:meta/"><broken>');
        [$status, $document] = $this->command('intake', $intake);
        self::assertSame([1, 1], [$status, $document['without_metadata']]);
        self::assertFileEquals($sidecar, $this->folder.'/shelf/2026/2026-05-02/2026-05-02_0003.xmp');
    }

    public function testVerifyFindsWhatIsChangedMissingAndUnknownAndTheCardRepairsIt(): void
    {
        $paths = $this->takenIn();
        self::assertSame(
            [0, ['checked' => 6, 'good' => 6, 'changed' => [], 'missing' => [], 'unknown' => []]],
            $this->verified([]),
        );
        $good = (string) file_get_contents($this->folder.'/shelf/'.$paths[0]);
        file_put_contents($this->folder.'/shelf/'.$paths[0], strrev($good)); // as long as before
        unlink($this->folder.'/twin/'.$paths[1]);
        $this->file('shelf/2026/2026-05-02 Regatta/notes.txt', 'from the pier');
        $found = [
            'checked' => 6,
            'good' => 4,
            'changed' => [$this->folder.'/shelf/'.$paths[0]],
            'missing' => [$this->folder.'/twin/'.$paths[1]],
            'unknown' => [$this->folder.'/shelf/2026/2026-05-02 Regatta/notes.txt'],
        ];
        self::assertSame([1, $found], $this->verified(['what' => 'Regatta']));
        [, $again] = $this->command('intake', $this->options());
        self::assertSame([2, 1], [$again['copied'], $again['already_filed']]);
        [$status, $after] = $this->verified(['what' => '2026/2026-05-02 Regatta']);
        self::assertSame(
            [0, 6, $good],
            [$status, $after['good'] ?? null, file_get_contents($this->folder.'/shelf/'.$paths[0])],
        );
    }

    public function testVerifyLeavesADriveThatIsAwayAloneAndSaysSo(): void
    {
        $this->takenIn();
        rename($this->folder.'/twin', $this->folder.'/away');
        self::assertSame(
            [1, ['checked' => 3, 'good' => 3, 'changed' => [], 'missing' => [], 'unknown' => []]],
            $this->verified([]),
        );
        rename($this->folder.'/away', $this->folder.'/twin');
        [, $again] = $this->command('intake', $this->options());
        self::assertSame(0, $again['copied'], 'nothing there is held to be missing');
        self::assertSame(1, $this->said('verify', ['what' => 'Nowhere', '--json' => true])[0]);
    }

    public function testTheLedgerIsExportedInOpenFormats(): void
    {
        $paths = $this->takenIn();
        [$status, $list] = $this->said('ledger', ['what' => 'export', '--format' => 'xxh128', '--shoot' => 'Regatta']);
        self::assertSame(0, $status);
        exec(
            'cd '.escapeshellarg($this->folder.'/twin').' && echo '.escapeshellarg(trim($list))
                .' | xxh128sum -c - 2>&1',
            $checked,
            $theirs,
        ); // xxhash, from Debian
        self::assertSame([0, 3], [$theirs, \count((array) preg_grep('/: OK$/', $checked))]);
        [, $csv] = $this->said('ledger', ['what' => 'export', '--format' => 'csv']);
        self::assertSame(
            $paths,
            array_map(
                static fn (string $line): string => (string) str_getcsv($line, ',', '"', '')[5],
                \array_slice(explode("\r\n", trim($csv)), 1),
            ),
        );
        [, $json] = $this->said('ledger', ['what' => 'export', '--format' => 'json']);
        self::assertSame($paths, array_column($this->list($json), 'path'));
        [, $mhl] = $this->said('ledger', ['what' => 'export', '--format' => 'mhl']);
        self::assertSame(3, substr_count($mhl, '<hash>'));
        self::assertSame(
            1,
            $this->said('ledger', ['what' => 'export', '--format' => 'csv', '--shoot' => 'Nowhere'])[0],
        );
    }

    /** @return array<string, string> */
    private function options(): array
    {
        return ['--shelf' => $this->folder.'/shelf', '--twin' => $this->folder.'/twin', '--name' => 'Regatta'];
    }

    /** @return list<string> paths of what was filed, relative to the shelf */
    private function takenIn(): array
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $this->command('intake', $this->options());

        return $this->tree('shelf');
    }

    /**
     * @param array<string, string> $input
     *
     * @return array{int, array<mixed>}
     */
    private function verified(array $input): array
    {
        [$status, $output] = $this->said('verify', ['--json' => true] + $input);
        $found = json_decode($output, true, 64, \JSON_THROW_ON_ERROR);

        return [$status, \is_array($found) ? $found : []];
    }

    public function testVerdictsAreGivenTakenOutAndTakenIn(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:50');
        $this->takeIn('Regatta');
        $on = fn (string $place, int $n): string => $this->folder.'/'.$place.'/'.$this->tree($place)[$n];
        [$status, $told] = $this->verdict(['do' => 'keep', 'of' => [$on('shelf', 0), $on('twin', 1)]]);
        self::assertSame([0, ['frames' => 2, 'unknown' => []]], [$status, $told]);
        $name = basename($on('shelf', 1));
        foreach ([$name, pathinfo($name, \PATHINFO_FILENAME)] as $said) {
            self::assertSame(0, $this->verdict([
                'do' => 'strike', 'of' => [$said], '--shoot' => 'Regatta',
            ])[0]);
        }
        self::assertSame(0, $this->verdict([
            'do' => 'stars', 'of' => ['4', $on('twin', 0)], '--wait' => true,
        ])[0]);
        foreach (['shelf', 'twin'] as $place) {
            // read by exiftool
            self::assertSame('4', trim((string) shell_exec(
                'exiftool -s3 -XMP-xmp:Rating '.escapeshellarg($on($place, 0)),
            )));
        }

        [, $csv] = $this->said('verdict', ['do' => 'export', '--format' => 'csv', '--shoot' => 'Regatta']);
        [$first, $second] = $this->tree('shelf');
        self::assertSame(
            "shoot,path,verdict,stars,tabs,by\r\nRegatta,$first,kept,4,,\r\nRegatta,$second,struck,,,\r\n",
            $csv,
        );
        $said = str_replace(['kept,4,', 'struck,,,'], ['open,0,', 'kept,2,Quay; Late,'], $csv);
        $file = $this->file('verdicts.csv', $said);
        self::assertSame(0, $this->verdict(['do' => 'import', 'of' => [$file]])[0]);
        [, $json] = $this->said('verdict', ['do' => 'export', '--format' => 'json']);
        $frames = ((array) json_decode($json, true))['frames'] ?? null;
        self::assertIsArray($frames);
        self::assertSame(['open', 'kept'], array_column($frames, 'verdict'));
        self::assertSame([0, 2], array_column($frames, 'stars'));
        self::assertSame([[], ['Quay', 'Late']], array_column($frames, 'tabs'));
    }

    public function testFramesAreListedAndJudgedByASearch(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:50');
        $this->shot('DCIM/100/T0003.JPG', '2026:05:02 23:31:50');
        $this->takeIn('Regatta');
        $names = $this->tree('shelf');
        $this->verdict(['do' => 'keep', 'of' => [$this->folder.'/shelf/'.$names[0]]]);
        $this->verdict(['do' => 'stars', 'of' => ['3', $this->folder.'/shelf/'.$names[0]]]);
        foreach ([
            [['--kept' => true], [0]],
            [['--open' => true], [1, 2]],
            [['--stars' => '3'], [0]],
            [['--stars' => '4'], []],
            [['--from' => '2026-05-02', '--to' => '2026-05-02'], [0, 1, 2]],
            [['--from' => '2026-05-03'], []],
            [['--camera' => 'tarn', '--open' => true], [1, 2]],
            [['--camera' => 'of nobody'], []],
        ] as [$search, $found]) {
            [$status, $told] = $this->verdict(['do' => 'list'] + $search);
            self::assertIsArray($told);
            self::assertIsArray($told['frames']);
            self::assertSame(
                [0, \count($found), array_map(static fn (int $n): string => $names[$n], $found)],
                [$status, $told['count'], array_column($told['frames'], 'path')],
                json_encode($search, \JSON_THROW_ON_ERROR),
            );
        }
        self::assertSame(
            [0, ['frames' => 2, 'unknown' => []]],
            $this->verdict(['do' => 'strike', '--open' => true, '--shoot' => 'Regatta']),
        );
        [, $text] = $this->said('verdict', ['do' => 'list']);
        self::assertSame("kept    ***    $names[0]\nstruck         $names[1]\nstruck         $names[2]\n", $text);
        $this->expectException(InvalidArgumentException::class);
        $this->verdict(['do' => 'keep', '--open' => true, 'of' => [$names[0]]]);
    }

    public function testStruckFramesAreSetAsideAndBroughtBack(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:50');
        $this->takeIn('Regatta');
        $before = [$this->tree('shelf'), $this->tree('twin')];
        self::assertSame(1, $this->said('aside', ['do' => 'set-aside', 'of' => ['Regatta']])[0], 'none is struck');
        self::assertSame(1, $this->said('aside', ['do' => 'set-aside', 'of' => ['Nobody']])[0]);
        $this->verdict(['do' => 'strike', '--open' => true]);
        [$status, $output] = $this->said('aside', ['do' => 'set-aside', 'of' => ['Regatta'], '--json' => true]);
        $told = json_decode($output, true);
        self::assertIsArray($told);
        self::assertSame([0, ['frames', 'files', 'bytes']], [$status, array_keys($told)]);
        self::assertSame([2, 2], [$told['frames'], $told['files']]);
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        $aside = $this->folder.'/twin/'.$this->tree('twin')[0];
        self::assertStringContainsString(', set aside/', $aside);
        [$status, $text] = $this->said('aside', ['do' => 'bring-back', 'of' => [$aside]]);
        self::assertSame([0, "1 frame with 1 file brought back.\n"], [$status, $text]);
        self::assertSame(0, $this->said('aside', ['do' => 'bring-back', 'of' => ['Regatta']])[0]);
        self::assertSame($before, [$this->tree('shelf'), $this->tree('twin')]);
    }

    public function testTabsArePutOnFramesAndTakenOff(): void
    {
        foreach ([1, 2] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $this->takeIn('Regatta');
        $filed = array_map(fn (string $path): string => $this->folder.'/shelf/'.$path, $this->tree('shelf'));
        self::assertSame(
            [0, ['frames' => 2, 'unknown' => []]],
            $this->verdict(['do' => 'tab', 'of' => ['Quay', ...$filed]]),
        );
        self::assertSame(0, $this->verdict(['do' => 'tab', 'of' => ['Late', $filed[0]]])[0]);
        self::assertSame(0, $this->verdict(['do' => 'untab', 'of' => ['quay', $filed[1]]])[0]);
        $tabs = function (): array {
            [, $json] = $this->said('verdict', ['do' => 'export', '--format' => 'json']);

            return array_column((array) (((array) json_decode($json, true))['frames'] ?? []), 'tabs');
        };
        self::assertSame([['Quay', 'Late'], []], $tabs());
        self::assertSame(
            [1, ['refused' => 'There is no tab “Lat”; no frame was changed. There are: Quay, Late.']],
            $this->verdict(['do' => 'untab', 'of' => ['Lat', $filed[0]]]),
        );
        self::assertSame(
            [1, ['refused' => '“a;b” has a semicolon in it, which parts one tab from the next in a list.']],
            $this->verdict(['do' => 'tab', 'of' => ['a;b', $filed[0]]]),
        );
        self::assertSame(
            [1, ['frames' => 0, 'unknown' => ['/nowhere/T0001.JPG']]],
            $this->verdict(['do' => 'tab', 'of' => ['Nobody', '/nowhere/T0001.JPG']]),
        );
        self::assertSame(2, $this->database()->fetchOne('SELECT count(*) FROM tab'), 'none is made for nothing');
        [$first, $second] = $this->tree('shelf');
        $tooMany = "path,verdict,tabs\n$first,struck,".implode(';', range(1, 25))."\n";
        self::assertSame(
            [1, ['refused' => 'There are 26 tabs already, and each needs a key. Delete one first.']],
            $this->verdict(['do' => 'import', 'of' => [$this->file('verdicts.csv', $tooMany)]]),
        );
        self::assertSame(2, $this->database()->fetchOne('SELECT count(*) FROM tab'), 'nothing is taken by halves');
        // a table says all of a frame's tabs, or nothing of them
        foreach ([
            "path,verdict\n$first,kept\n" => [['Quay', 'Late'], []],
            "path,verdict,tabs\n$first,kept,late\n$second,open,Bridge\n" => [['Late'], ['Bridge']],
            "path,verdict,tabs\n$second,open,\n" => [['Late'], []],
        ] as $table => $expected) {
            self::assertSame(0, $this->verdict(['do' => 'import', 'of' => [$this->file('verdicts.csv', $table)]])[0]);
            self::assertSame($expected, $tabs());
        }
    }

    public function testFilesAreRotatedAndSaySo(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn('Regatta');
        $filed = $this->folder.'/shelf/'.$this->tree('shelf')[0];
        [$status, $text] = $this->said('verdict', ['do' => 'rotate', 'of' => ['right', $filed], '--wait' => true]);
        self::assertSame([0, "1 frame rotated.\n"], [$status, $text]);
        self::assertSame("6\n", shell_exec('exiftool -n -s3 -IFD0:Orientation '.escapeshellarg($filed)));
        $this->expectExceptionMessage('Say whether to the right or to the left, and then the files.');
        $this->said('verdict', ['do' => 'rotate', 'of' => [$filed]]);
    }

    public function testAVerdictOnWhatIsNotFiledIsToldAndTheOthersAreGiven(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn('Regatta');
        $filed = $this->folder.'/shelf/'.$this->tree('shelf')[0];
        [$status, $told] = $this->verdict(['do' => 'keep', 'of' => [$filed, '/nowhere/T0001.JPG']]);
        self::assertSame([1, ['frames' => 1, 'unknown' => ['/nowhere/T0001.JPG']]], [$status, $told]);
        [$status, $told] = $this->verdict(['do' => 'keep', 'of' => ['x'], '--shoot' => 'Nothing']);
        self::assertSame(
            [1, ['refused' => 'There is no shoot called “Nothing”; no verdict was changed.']],
            [$status, $told],
        );
        $file = $this->file('verdicts.csv', "path,verdict\n2026/gone.jpg,kept\n");
        self::assertSame(1, $this->verdict(['do' => 'import', 'of' => [$file]])[0]);
        $file = $this->file('verdicts.csv', "path,verdict\n2026/gone.jpg,perhaps\n");
        self::assertSame(1, $this->verdict(['do' => 'import', 'of' => [$file]])[0]);
    }

    /**
     * @param array<string, mixed> $input
     *
     * @return array{int, mixed}
     */
    private function verdict(array $input): array
    {
        [$status, $output] = $this->said('verdict', $input + ['--json' => true]);

        return [$status, json_decode($output, true, 64, \JSON_THROW_ON_ERROR)];
    }

    /** @return list<mixed> */
    private function list(string $json): array
    {
        $document = json_decode($json, true, 64, \JSON_THROW_ON_ERROR);

        return \is_array($document) && \is_array($document['files']) ? array_values($document['files']) : [];
    }

    /**
     * @param array<string, string> $options
     *
     * @return array{int, array<mixed>} exit status, and the JSON document on standard output
     */
    private function command(string $name, array $options, ?string $card = null): array
    {
        [$status, $output] = $this->said(
            $name,
            ['path' => $card ?? $this->folder.'/card', '--json' => true] + $options,
        );
        $document = json_decode($output, true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($document);

        return [$status, $document];
    }

    /**
     * @param array<string, mixed> $input
     *
     * @return array{int, string} exit status, and what is on standard output
     */
    private function said(string $name, array $input): array
    {
        self::assertNotNull(self::$kernel);
        $this->entities()->clear();
        $tester = new CommandTester((new Application(self::$kernel))->find('velvet:'.$name));

        return [$tester->execute($input, ['capture_stderr_separately' => true]), $tester->getDisplay()];
    }

    /**
     * @param array<mixed> $document
     *
     * @return array<mixed>
     */
    private function first(array $document, string $list): array
    {
        self::assertIsArray($document[$list]);
        self::assertIsArray($document[$list][0]);

        return $document[$list][0];
    }

    /**
     * @param array<mixed> $document
     *
     * @return list<array{from: array<mixed>, to: array<mixed>}>
     */
    private function names(array $document): array
    {
        $names = [];
        foreach ((array) $document['entries'] as $entry) {
            self::assertIsArray($entry);
            foreach ((array) $entry['frames'] as $frame) {
                self::assertIsArray($frame);
                $names[] = ['from' => (array) $frame['from'], 'to' => (array) $frame['to']];
            }
        }

        return $names;
    }

    /** A name on a card may hold what a terminal would obey (ECMA-48); it is shown by its code. */
    public function testControlCharactersInNamesAreShownAndNotObeyed(): void
    {
        $output = new BufferedOutput();
        $say = new Say($output);
        $say->line("DCIM/T\e[2J\u{9B}31m\x07.JPG und Tür\n\tzweite Zeile");
        $say->note("T\x7F.JPG");
        self::assertSame(
            "DCIM/T\\x1B[2J\\xC29B31m\\x07.JPG und Tür\n\tzweite Zeile\nT\\x7F.JPG\n",
            $output->fetch(),
        );
    }
}
