<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Http\IntakeProgress;
use Velvet\Server\Http\SheetView;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Metadata\KeywordEdits;
use Velvet\Server\Work\Receipts\ReceiptFormat;
use Velvet\Server\Work\Sheets\SheetEdits;

/**
 * What the house style says is written into copies and sidecars while frames are filed; read back by exiftool from
 * Debian.
 */
final class MetadataTest extends ServerTestCase
{
    private const RULES = [
        'texts' => [
            ['field' => 'creator', 'pieces' => [['piece' => 'text', 'text' => 'Ines Varga-Holt']]],
            [
                'field' => 'copyright',
                'pieces' => [
                    ['piece' => 'text', 'text' => '© '],
                    ['piece' => 'shot_time', 'format' => 'yyyy'],
                    ['piece' => 'text', 'text' => ' Ines Varga-Holt'],
                ],
            ],
            ['field' => 'headline', 'pieces' => [['piece' => 'shoot_name']]],
        ],
        'keywords' => ['Tarn Hollow', 'lanterns'],
    ];

    public function testCopiesGetWhatTheStyleSaysAndTheCardStaysAsItIs(): void
    {
        $source = $this->shot('DCIM/100/T0001.JPG', '2025:12:31 19:31:40');
        $raw = $this->file('card/DCIM/100/T0002.TRW', Samples::rawWithoutPreview());
        $before = [sha1_file($source), sha1_file($raw)];
        $intake = $this->written();
        self::assertSame(IntakeState::Done, $intake->state);
        self::assertSame($before, [sha1_file($source), sha1_file($raw)]);
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        $files = [...$this->ending('jpg'), ...$this->ending('xmp')];
        self::assertCount(2, $files);
        foreach ($files as $path) {
            $said = $this->said($path);
            $year = str_ends_with($path, '.jpg') ? '2025' : '2026';
            self::assertSame(
                [
                    'Ines Varga-Holt',
                    "© $year Ines Varga-Holt",
                    'Regatta',
                    ['Tarn Hollow', 'lanterns'],
                    str_ends_with($path, '.jpg') ? 'T0001.JPG' : 'T0002.TRW',
                    true,
                ],
                [
                    $said['Creator'] ?? null,
                    $said['Rights'] ?? null,
                    $said['Headline'] ?? null,
                    $said['Subject'] ?? null,
                    $said['PreservedFileName'] ?? null,
                    $said['Marked'] ?? null,
                ],
            );
            self::assertSame(sha1_file($this->folder.'/shelf/'.$path), sha1_file($this->folder.'/twin/'.$path));
        }
        self::assertSame(
            $before[1],
            sha1_file($this->folder.'/shelf/'.$this->ending('trw')[0]),
            'a maker\'s raw file is never written into',
        );
        self::assertSame(
            ['metadata_written', 'sidecar_written'],
            $this->database()->fetchFirstColumn(
                "SELECT DISTINCT event FROM ledger_line
                    WHERE event IN ('metadata_written', 'sidecar_written', 'metadata_refused') ORDER BY event",
            ),
        );
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
        // the ledger knows both: as received, and as filed
        $check = $this->get(LedgerCheck::class)->of(null, static function (string $path): void {});
        self::assertSame(
            ['checked' => 6, 'good' => 6, 'changed' => [], 'missing' => [], 'unknown' => []],
            $check->toArray(),
        );
        file_put_contents(
            $this->folder.'/list',
            ReceiptFormat::Xxh128->of($this->get(Receipts::class)->ofIntake($intake->id()), new \DateTimeImmutable()),
        );
        exec(
            'cd '.escapeshellarg($this->folder.'/twin')
                .' && xxh128sum -c ../list 2>&1 && cd */*Regatta && sha256sum -c *.sha256 2>&1',
            $output,
            $status,
        );
        self::assertSame(0, $status, implode("\n", $output));
    }

    public function testACopyThatWeChangedIsStillTheFrameOnTheCard(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->written();
        rename($this->folder.'/card/DCIM/100/T0001.JPG', $this->folder.'/card/DCIM/100/OTHER.JPG');
        $view = $this->get(SheetView::class)->of($this->sheet(''));
        self::assertSame('Every frame here is filed already.', $view['waits_for']);
    }

    public function testAFileThatCannotBeWrittenIntoStaysAsReceivedAndASidecarSaysItAndWhy(): void
    {
        $broken = $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $packet = "http://ns.adobe.com/xap/1.0/\0<x:xmpmeta xmlns:x='adobe:ns:meta/'>\n<broken></x:xmpmeta>";
        $jpeg = (string) file_get_contents($broken);
        file_put_contents(
            $broken,
            substr($jpeg, 0, 2)."\xFF\xE1".pack('n', \strlen($packet) + 2).$packet.substr($jpeg, 2),
        );
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->written();
        self::assertSame(IntakeState::Done, $intake->state);
        self::assertSame(sha1_file($broken), sha1_file($this->folder.'/twin/'.$this->ending('jpg')[0]));
        $notes = array_column($this->get(Receipts::class)->ofIntake($intake->id()), 'note');
        self::assertStringContainsString(
            'T0001.JPG was filed as it was received: its XMP packet is not well formed (line 2',
            $notes[0],
        );
        [$sidecar] = $this->ending('xmp');
        self::assertSame($this->ending('jpg')[0].'.xmp', $sidecar);
        self::assertStringEndsWith(' What is said of it is in a sidecar, '.basename($sidecar).'.', $notes[0]);
        self::assertSame(
            ['Ines Varga-Holt', ['Tarn Hollow', 'lanterns'], 'T0001.JPG'],
            [
                $this->said($sidecar)['Creator'] ?? null, $this->said($sidecar)['Subject'] ?? null,
                $this->said($sidecar)['PreservedFileName'] ?? null,
            ],
        );
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
        $check = $this->get(LedgerCheck::class)->of(null, static function (string $path): void {})->toArray();
        self::assertSame([6, []], [$check['good'], $check['unknown']], 'two copies of two files and of a sidecar');
        self::assertSame('', $notes[1]);
        // on the page and in JSON with its frame, in the ledger's export, and by name on the terminal
        $progress = $this->get(IntakeProgress::class);
        self::assertSame([[$notes[0]], []], array_column($progress->frames($intake, 1, 0, 10), 'problems'));
        self::assertSame([$notes[0]], $progress->of($intake)['remarks']);
        $exported = iterator_to_array($this->get(Receipts::class)->filed(), false);
        self::assertSame([$notes[0], ''], array_column($exported, 'note'));
    }

    public function testACrashBetweenShelfAndTwinIsMended(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->written();
        [$path] = $this->ending('jpg');
        $new = (string) file_get_contents($this->folder.'/shelf/'.$path);
        // as if the worker had died after the shelf's copy took its place
        copy($this->folder.'/card/DCIM/100/T0001.JPG', $this->folder.'/twin/'.$path);
        $this->database()->executeStatement(
            "UPDATE filed_file
                SET metadata_state = 'waiting', metadata_begun = metadata_wanted, metadata_digest = digest_now,
                    metadata_bytes = bytes_now, digest_now = NULL, bytes_now = NULL",
        );
        $this->database()->executeStatement("UPDATE intake SET state = 'waiting', finished_at = NULL");
        $this->entities()->clear();
        $this->get(IntakeRun::class)->run(1, OnFailure::KeepGoing);
        self::assertStringEqualsFile($this->folder.'/twin/'.$path, $new);
        self::assertSame(Digest::ofBytes($new)->hex, $this->database()->fetchOne('SELECT digest_now FROM filed_file'));
        // and when neither had, all begins anew
        foreach (['shelf', 'twin'] as $root) {
            copy($this->folder.'/card/DCIM/100/T0001.JPG', $this->folder.'/'.$root.'/'.$path);
        }
        $this->database()->executeStatement(
            "UPDATE filed_file
                SET metadata_state = 'waiting', metadata_begun = metadata_wanted, metadata_digest = digest_now,
                    metadata_bytes = bytes_now, digest_now = NULL, bytes_now = NULL",
        );
        $this->database()->executeStatement("UPDATE intake SET state = 'waiting', finished_at = NULL");
        $this->get(IntakeRun::class)->run(1, OnFailure::KeepGoing);
        self::assertSame('Regatta', $this->said($path)['Headline'] ?? null);
        self::assertSame(sha1_file($this->folder.'/shelf/'.$path), sha1_file($this->folder.'/twin/'.$path));
        self::assertSame(
            [],
            array_filter($this->tree('twin'), static fn (string $file): bool => str_contains($file, 'velvet-part')),
            'nothing is left lying about',
        );
    }

    /** The twin's drive goes when its copy has its metadata, before that is set down; then it is back. */
    public function testMetadataIsWrittenWhenAllOfItsPlacesAreSetDown(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        TestDrives::goesOnce($this->folder.'/twin', function () use (&$happened): bool {
            $copy = $this->folder.'/twin/'.($this->ending('jpg')[0] ?? '');

            return $happened = is_file($copy) && str_contains((string) file_get_contents($copy), 'Regatta');
        });
        $intake = $this->written();
        self::assertTrue($happened);
        if (IntakeState::Paused === $intake->state) {
            $this->get(Intakes::class)->resume($intake);
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        }
        [$path] = $this->ending('jpg');
        $digest = Digest::ofFile($this->folder.'/twin/'.$path)->hex;
        self::assertSame('Regatta', $this->said($path)['Headline'] ?? null);
        self::assertSame(
            [$digest, $digest],
            $this->database()->fetchFirstColumn("SELECT digest FROM filed_copy WHERE state = 'whole'"),
        );
        self::assertSame(
            ['written', $digest],
            $this->database()->fetchNumeric('SELECT metadata_state, digest_now FROM filed_file'),
        );
    }

    public function testARepairedCopyGetsTheMetadataFromTheOtherOne(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->written();
        [$path] = $this->ending('jpg');
        $good = (string) file_get_contents($this->folder.'/twin/'.$path);
        file_put_contents($this->folder.'/shelf/'.$path, 'damaged');
        $intake = $this->sheet(''); // with a style that writes nothing
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertStringEqualsFile($this->folder.'/shelf/'.$path, $good);
        self::assertStringEqualsFile($this->folder.'/twin/'.$path, $good);
        self::assertStringEqualsFile($this->folder.'/shelf/'.$path.'.damaged-1', 'damaged');
        self::assertFileDoesNotExist($this->folder.'/twin/'.$path.'.damaged-1', 'the good copy is not put aside');
        $check = $this->get(LedgerCheck::class)->of(null, static function (string $file): void {});
        self::assertSame([2, 2, [], []], [$check->checked, $check->good, $check->changed, $check->missing]);
    }

    public function testACorrectedClockIsWrittenAsSuchAndTheCamerasTimeStays(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet('Regatta');
        $camera = $this->database()->fetchOne('SELECT camera FROM card_frame');
        self::assertIsString($camera);
        $this->get(SheetEdits::class)->correct($intake, $camera, 3450);
        $this->get(Intakes::class)->settle($this->again($intake), false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $said = $this->said($this->ending('jpg')[0]);
        self::assertSame(
            ['2026:05:02 20:29:10', '2026:05:02 19:31:40'],
            [$said['DateCreated'] ?? null, $said['DateTimeOriginal'] ?? null],
        );
        self::assertStringContainsString(
            'clock corrected by +0:57:30',
            \is_string($said['HistoryParameters'] ?? null) ? $said['HistoryParameters'] : '',
        );
    }

    public function testKeywordsThatTheFilesBroughtAlongStayWhicheverIsWrittenFirst(): void
    {
        foreach (['JPG' => 'harbour', 'TIF' => 'nets'] as $extension => $keyword) {
            $path = 'JPG' === $extension
                ? $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40')
                : $this->file('card/DCIM/100/T0001.TIF', Samples::of('tif'));
            exec('exiftool -q -overwrite_original -XMP-dc:Subject='.$keyword.' '.escapeshellarg($path));
        }
        $this->written();
        foreach (['jpg', 'tif'] as $extension) {
            $has = $this->said($this->ending($extension)[0])['Subject'] ?? null;
            self::assertIsArray($has);
            self::assertEqualsCanonicalizing(
                ['harbour', 'nets', 'Tarn Hollow', 'lanterns'],
                $has,
                'those of both files and of the style',
            );
        }
    }

    public function testAKeywordThatIsRenamedWhileFilesAreOnTheirWayIsWrittenAsItIsCalledThen(): void
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $intake = $this->toBeWritten();
        $edits = $this->get(KeywordEdits::class);
        $rename = function () use ($edits): void {
            $id = $this->database()->fetchOne("SELECT id FROM keyword WHERE name = 'lanterns'");
            if (\is_int($id)) { // the first file says it already, and nothing is filed yet
                $edits->change(new Keyword($id, null, 'paper lanterns'));
            }
        };
        $copied = 0;
        $onFile = static function () use (&$copied, $rename): void {
            2 === ++$copied ? $rename() : null;
        };
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing, $onFile);
        self::assertCount(3, $this->ending('jpg'));
        foreach ($this->ending('jpg') as $path) {
            self::assertSame(['Tarn Hollow', 'paper lanterns'], $this->said($path)['Subject'] ?? null, $path);
        }
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
    }

    /** The lights go out between the names and the ledger; when they are on again, a keyword has another name. */
    public function testWhatWasPlacedBeforeTheLightsWentOutIsWrittenAnew(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:41');
        $intake = $this->toBeWritten();
        $target = $this->database()->fetchOne('SELECT target FROM transfer');
        self::assertIsString($target);
        $placed = 'with the metadata of that time';
        foreach (['shelf', 'twin'] as $place) {
            $this->file($place.'/'.$target, $placed);
        }
        $this->database()->executeStatement(
            "UPDATE transfer SET state = 'verifying', tries = 1, worker = 'one that died', backend_pid = 1,
                backend_start = now() - interval '1 hour', lease_until = now() - interval '1 hour', to_place = ?",
            [Digest::ofBytes($placed)->hex],
        );
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(0, $this->get(IntakeProgress::class)->of($this->again($intake))['failed']);
        self::assertSame(['Tarn Hollow', 'lanterns'], $this->said($target)['Subject'] ?? null);
        self::assertSame(
            sha1_file($this->folder.'/shelf/'.$target),
            sha1_file($this->folder.'/twin/'.$target),
        );
        self::assertTrue($this->get(CardClearance::class)->of($this->readCard())->cleared);
    }

    /** A worker that was away for long: another one has its file, and must not find ours under the name. */
    public function testAFileThatAnotherWorkerTookOverMeanwhileIsNotPlaced(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:41');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:42');
        $intake = $this->toBeWritten();
        $takeOver = function (): void {
            $this->database()->executeStatement(
                "UPDATE transfer SET worker = 'another one', lease_until = now() + interval '1 hour',
                    backend_pid = pg_backend_pid(), backend_start = (SELECT backend_start FROM pg_stat_activity
                        WHERE pid = pg_backend_pid()) WHERE source LIKE '%T0001.JPG'",
            );
        };
        $copied = 0;
        $onFile = static function () use (&$copied, $takeOver): void {
            2 === ++$copied ? $takeOver() : null; // the first is read, nothing is named
        };
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing, $onFile);
        self::assertCount(1, $this->ending('jpg'));
        self::assertSame(
            [['copying', 'another one', null], ['filed', null, null]],
            array_map(array_values(...), $this->database()->fetchAllAssociative(
                'SELECT state, worker, failure FROM transfer ORDER BY id',
            )),
        );
    }

    public function testEachFileIsWrittenOnceAsItIsFiled(): void
    {
        foreach ([1, 2, 3] as $n) {
            $this->shot("DCIM/100/T000$n.JPG", "2026:05:02 19:31:4$n");
        }
        $intake = $this->toBeWritten();
        $this->database()->executeStatement('CREATE TEMPORARY TABLE seen AS SELECT 0 AS waiting');
        $this->database()->executeStatement(<<<'SQL'
            CREATE FUNCTION pg_temp.look() RETURNS trigger LANGUAGE plpgsql AS
            $$ BEGIN UPDATE seen SET waiting = waiting + 1; RETURN NEW; END $$
            SQL);
        $this->database()->executeStatement(
            "CREATE TRIGGER look AFTER INSERT ON filed_file FOR EACH ROW WHEN (NEW.metadata_state = 'waiting')
                EXECUTE FUNCTION pg_temp.look()",
        );
        try {
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        } finally {
            $this->database()->executeStatement('DROP TRIGGER look ON filed_file');
        }
        self::assertSame(0, $this->database()->fetchOne('SELECT waiting FROM seen'));
        self::assertSame(
            [['file_filed', 3], ['metadata_written', 3]],
            array_map(array_values(...), $this->database()->fetchAllAssociative(
                "SELECT event, count(*) FROM ledger_line WHERE event IN ('file_filed', 'metadata_written')
                    GROUP BY event ORDER BY event",
            )),
        );
    }

    /** What the picture's own packet holds, an editor would not find beside a sidecar that lacks it. */
    public function testASidecarHoldsWhatThePicturesOwnPacketHolds(): void
    {
        foreach (['avif', 'webp', 'jxl'] as $n => $format) {
            $path = $this->file("card/DCIM/100/T000$n.".strtoupper($format), Samples::of($format));
            exec('exiftool -q -overwrite_original -XMP-dc:Subject=harbour -XMP-xmp:Rating=4 -XMP-dc:Title=Quay '
                .'-XMP-dc:Source=elsewhere '.escapeshellarg($path));
        }
        $this->written();
        $sidecars = $this->ending('xmp');
        self::assertCount(3, $sidecars);
        foreach ($sidecars as $sidecar) {
            $said = $this->said($sidecar);
            self::assertSame(
                ['Quay', 'elsewhere', 4, 'Ines Varga-Holt'],
                [$said['Title'] ?? null, $said['Source'] ?? null, $said['Rating'] ?? null, $said['Creator'] ?? null],
                $sidecar,
            );
            self::assertIsArray($said['Subject'] ?? null);
            self::assertEqualsCanonicalizing(['harbour', 'Tarn Hollow', 'lanterns'], $said['Subject'], $sidecar);
        }
    }

    public function testFramesOfARunGetItsKeyword(): void
    {
        foreach (range(0, 11) as $n) {
            $this->shot(
                \sprintf('DCIM/100/T%04d.JPG', $n),
                \sprintf('2026:05:04 05:%02d:%02d', intdiv($n * 20, 60), $n * 20 % 60),
            ); // every 20 s
        }
        $this->shot('DCIM/100/T0100.JPG', '2026:05:04 09:31:17');
        $intake = $this->sheet('Tide clock');
        $intake->styleDocument = [
            'metadata' => ['runs' => ['time_lapse' => 'time-lapse']],
        ] + HouseStyle::standard()->toArray();
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $keywords = array_map(fn (string $path): mixed => $this->said($path)['Subject'] ?? null, $this->ending('jpg'));
        self::assertSame([12, null], [\count(array_keys($keywords, 'time-lapse', true)), $keywords[12]]);
    }

    public function testASidecarThatLiesOnTheCardIsMergedIntoItsCopy(): void
    {
        $this->file('card/DCIM/100/T0002.TRW', Samples::rawWithoutPreview());
        $this->file(
            'card/DCIM/100/T0002.XMP',
            "<x:xmpmeta xmlns:x='adobe:ns:meta/'><rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>"
                ."<rdf:Description rdf:about='' xmlns:xmp='http://ns.adobe.com/xap/1.0/' xmp:Rating='3'"
                ." xmlns:own='urn:own'><own:Thing>kept</own:Thing></rdf:Description></rdf:RDF></x:xmpmeta>",
        );
        $this->written();
        $sidecars = $this->ending('xmp');
        self::assertCount(1, $sidecars);
        $said = $this->said($sidecars[0]);
        self::assertSame([3, 'Regatta'], [$said['Rating'] ?? null, $said['Headline'] ?? null]);
        self::assertStringContainsString(
            '<own:Thing>kept</own:Thing>',
            (string) file_get_contents($this->folder.'/shelf/'.$sidecars[0]),
        );
    }

    private function written(): Intake
    {
        $intake = $this->toBeWritten();
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

        return $this->again($intake);
    }

    private function toBeWritten(): Intake
    {
        $intake = $this->sheet('Regatta');
        $intake->styleDocument = [
            'metadata' => self::RULES,
            'copies' => ['second_digest' => 'sha256', 'manifests' => true],
        ] + HouseStyle::standard()->toArray();
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);

        return $intake;
    }

    /** @return array<mixed> what exiftool finds in the twin's copy */
    private function said(string $path): array
    {
        $json = json_decode((string) shell_exec('exiftool -json '.escapeshellarg($this->folder.'/twin/'.$path)), true);

        return \is_array($json) && \is_array($json[0]) ? $json[0] : [];
    }

    /** @return list<string> */
    private function ending(string $extension): array
    {
        return array_values(
            array_filter($this->tree('shelf'), static fn (string $path): bool => str_ends_with($path, '.'.$extension)),
        );
    }
}
