<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureFacts;
use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\LensNumber;
use Velvet\Core\Capture\LensTable;
use Velvet\Core\Card\CardWalk;

/**
 * Makers' notes, made here as their structures are known (from memory), and what exiftool from Debian, which is
 * independent of this program, reads in them.
 */
final class MakerFactsTest extends ReaderTestCase
{
    /**
     * @param \Closure(int): string $note       for where it lies in the Exif structure
     * @param array<string, mixed>  $says       what exiftool must find in it, by its tags: the note is sound
     * @param array<string, mixed>  $facts      by their names in the contract
     */
    #[DataProvider('notes')]
    public function testWhatStandsInTheMakersNoteAlone(string $make, \Closure $note, array $says, array $facts): void
    {
        $path = $this->file('a.jpg', self::jpeg($make, $note));
        self::assertEquals($says, array_intersect_key(ExifTool::read($path), $says), 'exiftool');
        $read = $this->facts($path);
        self::assertSame([], $read->problems);
        self::assertSame($facts, array_intersect_key($read->toArray(), $facts));
        self::assertEqualsCanonicalizing(
            array_diff(array_keys($facts), ['focus']), // it stands nowhere else
            $read->toArray()['from_maker_note'],
        );
    }

    /** @return iterable<string, array{string, \Closure(int): string, array<string, mixed>, array<string, mixed>}> */
    public static function notes(): iterable
    {
        yield 'a TIFF structure of its own, with 0 before the sensitivity' => [
            'NIKON CORPORATION',
            static fn (): string => "Nikon\0\x02\x10\0\0II\x2A\0\x08\0\0\0".self::directory(8, [
                [0x0002, 3, pack('vv', 0, 640)],
                [0x001D, 2, "2031417\0"],
                [0x0084, 5, pack('V8', 24, 1, 70, 1, 28, 10, 28, 10)],
            ]),
            ['ISO' => '0 640', 'SerialNumber' => 2_031_417, 'Lens' => '24 70 2.8 2.8'],
            ['serial' => '2031417', 'lens' => '24–70 mm f/2.8', 'iso' => 640],
        ];
        yield 'a bare directory, offsets from the Exif structure, sensitivity in 32nds of a stop' => [
            'Canon',
            static fn (int $at): string => self::directory($at, [
                [0x0001, 3, pack('v26', 52, ...array_fill(0, 22, 0), ...[105, 24, 1])],
                [0x0004, 3, pack('v4', 8, 32, 224, 0)],
                [0x000C, 4, pack('V', 1_234_567)],
                [0x0095, 2, "Tarn 24-105mm F4\0"],
            ]),
            ['AutoISO' => 200, 'BaseISO' => 400, 'SerialNumber' => 1_234_567, 'LensModel' => 'Tarn 24-105mm F4'],
            ['serial' => '0001234567', 'lens' => 'Tarn 24-105mm F4', 'iso' => 800],
        ];
        yield 'the same without a name of the lens' => [
            'Canon',
            static fn (int $at): string => self::directory($at, [
                [0x0001, 3, pack('v26', 52, ...array_fill(0, 22, 0), ...[105, 24, 1])],
            ]),
            ['MaxFocalLength' => 105, 'MinFocalLength' => 24],
            ['lens' => '24–105 mm'],
        ];
        yield 'directories within the note, offsets from its start' => [
            'OLYMPUS CORPORATION',
            static function (): string {
                $note = "OLYMPUS\0II\x03\0".self::directory(12, [[0x2010, 4, pack('V', 12 + 2 + 12 + 4)]]);

                return $note.self::directory(\strlen($note), [
                    [0x0101, 2, "BHN417001\0"], [0x0203, 2, "TARN 12-40mm F2.8\0"],
                ]);
            },
            ['SerialNumber' => 'BHN417001', 'LensModel' => 'TARN 12-40mm F2.8'],
            ['serial' => 'BHN417001', 'lens' => 'TARN 12-40mm F2.8'],
        ];
        yield 'a head, then offsets from the Exif structure' => [
            'Panasonic',
            static fn (int $at): string => "Panasonic\0\0\0".self::directory($at + 12, [
                [0x0051, 2, "TARN 12-35/F2.8\0"],
            ]),
            ['LensType' => 'TARN 12-35/F2.8'],
            ['lens' => 'TARN 12-35/F2.8'],
        ];
        yield 'a table of sensitivities' => [
            'PENTAX',
            static fn (int $at): string => "AOC\0II".self::directory($at + 6, [
                [0x0014, 3, pack('v', 13)], [0x0229, 2, "4170012\0"],
            ]),
            ['ISO' => 13, 'SerialNumber' => 4_170_012],
            ['serial' => '4170012', 'iso' => 500],
        ];
        yield 'another head, offsets from the note, the sensitivity itself' => [
            'RICOH IMAGING COMPANY, LTD.',
            static fn (): string => "PENTAX \0II".self::directory(10, [
                [0x0014, 3, pack('v', 1600)], [0x0229, 2, "4170012\0"],
            ]),
            ['ISO' => 1600],
            ['serial' => '4170012', 'iso' => 1600],
        ];
        yield 'where it focused, in shares' => [
            'Panasonic',
            static fn (int $at): string => "Panasonic\0\0\0".self::directory($at + 12, [
                [0x004D, 5, pack('V4', 256, 1024, 512, 1024)],
            ]),
            ['AFPointPosition' => '0.25 0.5'],
            ['focus' => [0.25, 0.5]],
        ];
        yield 'where it focused, in pixels of a size that it tells' => [
            'SONY',
            static fn (int $at): string => "SONY DSC \0\0\0".self::directory($at + 12, [
                [0x2027, 3, pack('v4', 6000, 4000, 1500, 3000)],
            ]),
            ['FocusLocation' => '6000 4000 1500 3000'],
            ['focus' => [0.25, 0.75]],
        ];
        yield 'where it focused, in pixels of the picture' => [
            'FUJIFILM',
            static fn (): string => 'FUJIFILM'.pack('V', 12).self::directory(12, [[0x1023, 3, pack('v2', 60, 10)]]),
            ['FocusPixel' => '60 10'],
            ['focus' => [0.5, 0.25]],
        ];
        yield 'where it focused, by a version that is laid down otherwise' => [
            'NIKON CORPORATION',
            static fn (): string => "Nikon\0\x02\x10\0\0II\x2A\0\x08\0\0\0".self::directory(8, [
                [0x00B7, 7, str_pad('0101', 0x46, "\x01").pack('v5', 6000, 4000, 1500, 3000, 0)],
            ]),
            ['AFImageWidth' => 6000, 'AFImageHeight' => 4000, 'AFAreaXPosition' => 1500, 'AFAreaYPosition' => 3000],
            ['focus' => [0.25, 0.75]],
        ];
        yield 'the same, found by a sensor of its own' => [
            'NIKON CORPORATION',
            static fn (): string => "Nikon\0\x02\x10\0\0II\x2A\0\x08\0\0\0".self::directory(8, [
                [0x00B7, 7, str_pad('0101', 0x46, "\0").pack('v5', 6000, 4000, 1500, 3000, 0)],
            ]),
            ['ContrastDetectAF' => 0],
            ['focus' => null],
        ];
        yield 'where it focused, the middle of a box' => [
            'OLYMPUS CORPORATION',
            static function (): string {
                $note = "OLYMPUS\0II\x03\0".self::directory(12, [[0x2020, 4, pack('V', 12 + 2 + 12 + 4)]]);

                return $note.self::directory(\strlen($note), [
                    [0x0305, 10, pack('V10', 0, 0, 1, 5, 2, 5, 2, 5, 3, 5)],
                ]);
            },
            ['AFPointSelected' => '0.2 0.4 0.4 0.6'],
            ['focus' => [0.3, 0.5]],
        ];
        // that places are counted from the middle and upwards is from memory: exiftool gives them as they stand
        yield 'where it focused, the middle of two points of three' => [
            'Canon EOS',
            static fn (int $at): string => self::directory($at, [
                [0x0026, 3, pack(
                    'v*',
                    ...[44, 2, 3, 3, 6000, 4000, 6000, 4000],
                    ...[100, 100, 100, 100, 100, 100],
                    ...[0x10000 - 1500, 0, 500],
                    ...[1000, 1000, 0x10000 - 1000],
                    ...[0b011, 0b011],
                )],
            ]),
            ['AFAreaXPositions' => '-1500 0 500', 'AFAreaYPositions' => '1000 1000 -1000', 'AFPointsInFocus' => 0b011],
            ['focus' => [0.375, 0.25]],
        ];
        yield 'stars that were given in the camera' => [
            'FUJIFILM',
            static fn (): string => 'FUJIFILM'.pack('V', 12).self::directory(12, [[0x1431, 4, pack('V', 4)]]),
            ['Rating' => 4],
            ['rating' => 4],
        ];
        yield 'stars behind another head' => [
            'SONY',
            static fn (int $at): string => "SONY DSC \0\0\0".self::directory($at + 12, [[0x2002, 4, pack('V', 3)]]),
            ['Rating' => 3],
            ['rating' => 3],
        ];
    }

    public function testTheTableOfSensitivitiesIsExiftools(): void
    {
        $paths = [];
        for ($place = 3; $place <= 36; ++$place) {
            $paths[$place] = $this->file("$place.jpg", self::jpeg('PENTAX', static fn (int $at): string => "AOC\0II"
                .self::directory($at + 6, [[0x0014, 3, pack('v', $place)]])));
        }
        $theirs = (string) shell_exec('exiftool -q -s3 -ISO '.implode(' ', array_map(escapeshellarg(...), $paths)));
        self::assertSame(
            array_map(intval(...), explode("\n", trim($theirs))),
            array_values(array_map(fn (string $path): ?int => $this->facts($path)->exposure->iso, $paths)),
        );
    }

    /** Whatever a damaged note says, the picture's own facts are read, and nothing else happens. */
    public function testADamagedNoteCostsNothingButItself(): void
    {
        mt_srand(417);
        foreach (self::notes() as [$make, $note]) {
            $whole = self::jpeg($make, $note);
            $start = (int) strpos($whole, "2026:05:02 19:31:40\0") + 20;
            for ($n = 0; $n < 40; ++$n) {
                $bytes = $whole;
                for ($i = 0; $i < 3; ++$i) {
                    $bytes[$start + mt_rand(0, 90)] = \chr(mt_rand(0, 255));
                }
                self::assertSame(
                    '2026-05-02T19:31:40',
                    $this->facts($this->file('a.jpg', $bytes))->time?->at->text(),
                    bin2hex($bytes),
                );
            }
        }
    }

    public function testWhatStandsInAStandardTagGoesBefore(): void
    {
        $path = $this->file('a.jpg', self::jpeg('FUJIFILM', static fn (): string => 'FUJIFILM'.pack('V', 12)
            .self::directory(12, [[0x1431, 4, pack('V', 4)]])));
        ExifTool::write($path, ['-IFD0:Rating=2']);
        $facts = $this->facts($path)->toArray();
        self::assertSame([2, []], [$facts['rating'], $facts['from_maker_note']]);
    }

    /** Cameras write 0 into every picture that nobody rated: no stars, which a sidecar may still have. */
    public function testNoStarsAreNone(): void
    {
        $this->file('card/A/T0001.JPG', self::jpeg('SONY', static fn (int $at): string => "SONY DSC \0\0\0"
            .self::directory($at + 12, [[0x2002, 4, pack('V', 0)]])));
        $this->file('card/A/T0001.xmp', '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF '
            .'xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" '
            .'xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:Rating="4"/></rdf:RDF></x:xmpmeta>');
        $root = $this->folder.'/card';
        $reading = (new CardReader($this->capture(), $root))->read(CardWalk::of($root)->frames($root)->frames[0]);
        self::assertSame([4, []], [$reading->facts->notes->rating, $reading->facts->notes->fromNote]);
    }

    /** Every tenth lens that has a number of its own, against the name that exiftool says. */
    public function testLensesByTheirNumbers(): void
    {
        $path = $this->file('lenses.tsv', (string) shell_exec(\dirname(__DIR__, 2).'/bin/lens-table'));
        $names = [];
        foreach ((array) file($path, \FILE_IGNORE_NEW_LINES) as $line) {
            [$maker, $number, $name] = explode("\t", (string) $line);
            $names["$maker $number"][] = $name;
        }
        $named = array_filter($names, static fn (array $of): bool => 1 === \count($of)
            && 1 === preg_match('~\d ?mm~', $of[0])
            && !str_contains($of[0], ' or '));
        self::assertGreaterThan(400, \count($named));
        $n = 0;
        $ours = [];
        foreach ($named as $lens => [$name]) {
            if (0 !== $n++ % 10) {
                continue;
            }
            [$maker, $number] = explode(' ', $lens, 2);
            self::assertSame(
                1,
                preg_match('~(?<![\d.])([\d.]+)(?:-([\d.]+))? ?mm~', $name, $range),
            );
            $file = $this->file("$n.jpg", match ($maker) {
                'canon' => self::jpeg('Canon', static fn (int $at): string => self::directory($at, [
                    [0x0001, 3, pack(
                        'v26',
                        52,
                        ...array_fill(0, 21, 0),
                        ...[(int) $number, 10 * (float) ($range[2] ?? $range[1]), 10 * (float) $range[1], 10],
                    )],
                ])),
                'pentax' => self::jpeg('PENTAX', static fn (int $at): string => "AOC\0II".self::directory($at + 6, [
                    [0x003F, 1, pack('C*', ...array_map(intval(...), explode(' ', $number)))],
                ])),
                default => self::jpeg('SONY', static fn (int $at): string => "SONY DSC \0\0\0".self::directory(
                    $at + 12,
                    [[0xB027, 4, pack('V', (int) $number)]],
                )),
            });
            $facts = Capture::inZone(new \DateTimeZone('UTC'), new LensTable($path))->of($file, 0)->facts;
            self::assertSame(['lens'], $facts->notes->fromNote, $lens);
            $ours[basename($file)] = $facts->optics->lens;
            self::assertNotSame($ours[basename($file)], $this->facts($file)->optics->lens, 'without the table: '.$name);
        }
        $folder = \dirname($path);
        $theirs = json_decode((string) shell_exec('exiftool -q -json -LensType '.escapeshellarg($folder)), true);
        self::assertIsArray($theirs);
        $read = [];
        foreach ($theirs as $of) {
            \assert(\is_array($of) && \is_string($of['SourceFile']) && \is_string($of['LensType']));
            $read[basename($of['SourceFile'])] = preg_replace('~ \(\d+\)$~', '', $of['LensType']);
        }
        self::assertEquals($ours, $read);
    }

    /** Invented lenses. */
    public function testLensesThatShareANumber(): void
    {
        $table = new LensTable($this->file('lenses.tsv', <<<'TSV'
            canon	10	Tarn 50mm f/2.5 or Hollow Lens
            canon	10	Hollow 28mm f/1.8
            canon	10	Hollow 20-50mm f/4
            canon	10	Heron 20-50mm f/3.5
            pentax	3 44	Tarn 24-70mm F2.8
            pentax	1 0	Any Lens of Tarn
            minolta	7	Tarn 50mm F1.4
            minolta	7	Heron 50mm F1.4
            TSV));
        $canon = static fn (float $shortest, float $longest): ?string => $table->name(
            new LensNumber(LensTable::CANON, '10', [$shortest, $longest]),
        );
        self::assertSame('Tarn 50mm f/2.5', $canon(50, 50));
        self::assertSame('Hollow 28mm f/1.8', $canon(28, 28));
        self::assertNull($canon(20, 50), 'two it could be');
        self::assertNull($canon(70, 200), 'none that it could be');
        self::assertSame('Tarn 24-70mm F2.8', $table->name(new LensNumber(LensTable::PENTAX, '3 44')));
        self::assertNull($table->name(new LensNumber(LensTable::PENTAX, '1 0')), 'no lens, but many');
        self::assertNull($table->name(new LensNumber(LensTable::MINOLTA, '7')));
        self::assertNull($table->name(new LensNumber(LensTable::MINOLTA, '8')));
        self::assertNull((new LensTable('/nowhere'))->name(new LensNumber(LensTable::MINOLTA, '7')));
    }

    /** 0 and then the value, in the standard's own tag. */
    public function testASensitivityBehindANought(): void
    {
        $path = $this->file('a.jpg', self::wrapped('Tarn', [[0x8827, 3, pack('vv', 0, 320)]]));
        self::assertSame(320, $this->facts($path)->exposure->iso);
    }

    private function facts(string $path): CaptureFacts
    {
        return Capture::inZone(new \DateTimeZone('UTC'))->of($path, 1_777_000_000)->facts->noting();
    }

    /** @param \Closure(int): string $note */
    private static function jpeg(string $make, \Closure $note): string
    {
        // directory 0 with three fields, the text twice, the Exif directory with four: where its last value lies then
        $at = 8 + 2 + 36 + 4 + 2 * (\strlen($make) + 1 + (\strlen($make) + 1) % 2) + 2 + 48 + 4;
        $at += 20; // the time
        $note = $note($at);

        return self::wrapped($make, [
            [0x9003, 2, "2026:05:02 19:31:40\0"], [0x927C, 7, $note], [0xA002, 4, pack('V', 120)],
            [0xA003, 4, pack('V', 40)],
        ]);
    }

    /** @param list<array{int, int, string}> $exif fields of the Exif directory */
    private static function wrapped(string $make, array $exif): string
    {
        $text = $make."\0".(0 === \strlen($make) % 2 ? "\0" : '');
        $private = 8 + 2 + 36 + 4 + 2 * \strlen($text);
        $tiff = "II\x2A\0\x08\0\0\0".self::directory(8, [
            [0x010F, 2, $text], [0x0110, 2, $text], [0x8769, 4, pack('V', $private)],
        ]);
        \assert(\strlen($tiff) === $private);
        $tiff .= self::directory($private, $exif);
        $jpeg = Samples::plainJpeg();

        return substr($jpeg, 0, 2)."\xFF\xE1".pack('n', 8 + \strlen($tiff))."Exif\0\0".$tiff.substr($jpeg, 2);
    }

    /**
     * A little-endian TIFF directory with its values behind it.
     *
     * @param int                            $at     where it stands, as its offsets count
     * @param list<array{int, int, string}> $fields tag, type and value
     */
    private static function directory(int $at, array $fields): string
    {
        $widths = [1 => 1, 2 => 1, 3 => 2, 4 => 4, 5 => 8, 7 => 1, 10 => 8];
        $table = pack('v', \count($fields));
        $values = '';
        $behind = $at + 2 + 12 * \count($fields) + 4;
        foreach ($fields as [$tag, $type, $value]) {
            $table .= pack('vvV', $tag, $type, intdiv(\strlen($value), $widths[$type]));
            if (\strlen($value) <= 4) {
                $table .= str_pad($value, 4, "\0");
            } else {
                $table .= pack('V', $behind + \strlen($values));
                $values .= $value.(0 === \strlen($value) % 2 ? '' : "\0");
            }
        }

        return $table."\0\0\0\0".$values;
    }
}
