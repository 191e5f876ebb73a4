<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureFacts;
use Velvet\Core\Capture\ExifReading;
use Velvet\Core\Capture\ShownPicture;
use Velvet\Core\Capture\TiffReader;
use Velvet\Core\Capture\XmpFacts;
use Velvet\Core\Tests\TemporaryFolder;

/** What holds for files of all formats together. */
final class FormatsTest extends TestCase
{
    use TemporaryFolder;

    public function testTheReaderIsFoundByContentAndNotByName(): void
    {
        $path = $this->folder.'/lies.tif';
        Vips::write($this->folder.'/a.png');
        rename($this->folder.'/a.png', $path);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 1_777_716_000)->facts;
        self::assertSame([96, 64], [$facts->size->width, $facts->size->height]);
    }

    public function testTheMakersHeadersAreKnown(): void
    {
        foreach (["II\x2A\0", "MM\0\x2A", 'IIRO', 'IIRS', 'MMOR', "IIU\0"] as $header) {
            self::assertNotNull((new TiffReader())->recognises($header.'........'));
        }
        self::assertNull((new TiffReader())->recognises("II\x2B\0........"));
    }

    public function testPlaceCreatorAndBiasAgreeWithExiftool(): void
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write(
            $path,
            [
                '-GPSLatitude=54.3213', '-GPSLatitudeRef=S', '-GPSLongitude=10.1349', '-GPSLongitudeRef=E',
                '-Artist=Ines Varga-Holt', '-Copyright=© 2026 Ines Varga-Holt', '-ExposureCompensation=-1.6666', '-n',
            ],
        );
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        $theirs = ExifTool::read($path);
        self::assertIsNumeric($theirs['GPSLatitude']);
        self::assertIsNumeric($theirs['GPSLongitude']);
        self::assertIsNumeric($theirs['ExposureCompensation']);
        self::assertEqualsWithDelta(
            [(float) $theirs['GPSLatitude'], (float) $theirs['GPSLongitude']],
            $facts->notes->place,
            1e-5,
        );
        self::assertSame([$theirs['Artist'], $theirs['Copyright']], [$facts->notes->artist, $facts->notes->copyright]);
        self::assertEqualsWithDelta((float) $theirs['ExposureCompensation'], $facts->exposure->bias, 1e-6);
    }

    public function testHighSensitivitiesAreReadFromTheirLongField(): void // EXIF 2.32, 4.6.5 D
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write($path, ['-EXIF:ISO=65535', '-RecommendedExposureIndex=102400']);
        self::assertSame(102_400, Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts->exposure->iso);
    }

    public function testXmpTellsTheTimeWhereExifDoesNot(): void
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write($path, ['-XMP-photoshop:DateCreated=2026:05:02 19:31:40+02:00', '-XMP-xmp:Rating=3']);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame(
            ['2026-05-02T19:31:40', '+02:00', 'xmp', 3],
            [$facts->time?->at->text(), $facts->time?->at->offset, $facts->time?->from->value, $facts->notes->rating],
        );
    }

    public function testAnExtensionThatIsWrongIsNoted(): void
    {
        $jpeg = Samples::of('jpg');
        $capture = Capture::inZone(new \DateTimeZone('UTC'));
        $problems = $capture->of($this->file('a.NEF', $jpeg), 0)->facts->problems;
        self::assertSame(
            [
                'a.NEF holds a JPEG, whatever its name says. It is read as what it is, and copied under the '
                    .'extension it has.',
            ],
            array_column($problems, 'text'),
        );
        foreach (['a.JPG', 'a.thm', 'a.jpeg', 'a'] as $name) {
            self::assertSame([], $capture->of($this->file($name, $jpeg), 0)->facts->problems, $name);
        }
        self::assertSame(
            ['other_content'],
            array_column($capture->of($this->file('b.jpg', Samples::of('nef')), 0)->facts->problems, 'code'),
        );
        self::assertSame([], $capture->of($this->file('b.raw', Samples::of('nef')), 0)->facts->problems);
    }

    public function testALensWithoutANameIsToldByItsRange(): void // EXIF 2.32, 4.6.5 H, LensSpecification
    {
        foreach ([
            '24 70 2.8 4' => '24–70 mm f/2.8–4',
            '85 85 1.4 1.4' => '85 mm f/1.4',
            '50 50 0 0' => '50 mm',
        ] as $lens => $said) {
            $path = $this->folder.'/a.jpg';
            Vips::write($path);
            ExifTool::write($path, ['-EXIF:LensInfo#='.$lens]);
            self::assertSame($said, Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts->optics->lens);
        }
    }

    /** Datasets written by exiftool; IPTC IIM 4.2, chapter 6. */
    public function testIptcTellsWhatExifAndXmpDoNot(): void
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write(
            $path,
            [
                '-IPTC:CodedCharacterSet=UTF8',
                '-IPTC:By-line=Ines Värga-Holt',
                '-IPTC:CopyrightNotice=© 2026',
                '-IPTC:DateCreated=2026:05:02',
                '-IPTC:TimeCreated=19:31:40+02:00',
            ],
        );
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame(
            ['Ines Värga-Holt', '© 2026', '2026-05-02T19:31:40', '+02:00', 'iim'],
            [
                $facts->notes->artist,
                $facts->notes->copyright,
                $facts->time?->at->text(),
                $facts->time?->at->offset,
                $facts->time?->from->value,
            ],
        );
    }

    /** CIPA DC-007, 5.2.3: the index, its offsets counted from its own start. */
    public function testALargerPreviewBehindTheFirstPictureIsFound(): void
    {
        $jpeg = Samples::of('jpg');
        $preview = Samples::plainJpeg();
        $entry = static fn (int $kind, int $length, int $offset): string => pack(
            'VVVvv',
            $kind,
            $length,
            $offset,
            0,
            0,
        );
        $index = static fn (int $offset): string => self::multiPicture(
            $entry(0x030000, \strlen($jpeg), 0).$entry(0x010002, \strlen($preview), $offset),
        );
        $segment = static fn (int $offset): string => "\xFF\xE2".pack(
            'n',
            6 + \strlen($index($offset)),
        )."MPF\0".$index($offset);
        $at = \strlen($jpeg) + \strlen($segment(0)) - (2 + 8); // from the index's own start to the second picture
        $bytes = substr($jpeg, 0, 2).$segment($at).substr($jpeg, 2).$preview;
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($this->file('a.jpg', $bytes), 0)->facts;
        self::assertSame([], $facts->problems);
        self::assertSame(
            $preview,
            substr($bytes, $facts->pictures->preview->offset ?? 0, $facts->pictures->preview->length ?? 0),
        );
        $theirs = ExifTool::read($this->folder.'/a.jpg');
        self::assertSame(
            [2, \strlen($preview)],
            [$theirs['NumberOfImages'] ?? null, $theirs['MPImageLength'] ?? null],
            'exiftool finds it, too',
        );
    }

    /** CIPA DC-007, 5.2.3.3: one for each eye; the file is filed whole, and says how many it holds. */
    public function testPicturesForTwoEyesAreCounted(): void
    {
        $jpeg = Samples::of('jpg');
        $entry = static fn (int $kind, int $offset): string => pack('VVVvv', $kind, \strlen($jpeg), $offset, 0, 0);
        $segment = static function (int $offset) use ($entry): string {
            $index = self::multiPicture($entry(0x020002, 0).$entry(0x020002, $offset));

            return "\xFF\xE2".pack('n', 6 + \strlen($index))."MPF\0".$index;
        };
        $at = \strlen($jpeg) + \strlen($segment(0)) - (2 + 8);
        $path = $this->file('a.mpo', substr($jpeg, 0, 2).$segment($at).substr($jpeg, 2).$jpeg);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame([[], 2], [$facts->problems, $facts->pictures->shots]);
        self::assertSame(2, ExifTool::read($path)['NumberOfImages'], 'exiftool');
        $one = Capture::inZone(new \DateTimeZone('UTC'))->of($this->file('b.jpg', $jpeg), 0)->facts;
        self::assertSame(1, $one->pictures->shots);
    }

    /** Made by ffmpeg, and what ffprobe says of them. */
    #[TestWith(['mp4', '-c:v libx264 -pix_fmt yuv420p'])]
    #[TestWith(['mov', '-c:v mjpeg -pix_fmt yuvj420p'])]
    #[TestWith(['avi', '-c:v mjpeg -pix_fmt yuvj420p'])]
    public function testAMovieTellsItsSizeLengthAndRate(string $extension, string $as): void
    {
        $path = $this->folder.'/a.'.$extension;
        exec("ffmpeg -v error -f lavfi -i testsrc=size=320x180:rate=25:duration=3 $as ".escapeshellarg($path));
        $said = json_decode((string) shell_exec(
            'ffprobe -v error -of json -show_entries stream=width,height,avg_frame_rate,duration '
                .escapeshellarg($path),
        ), true);
        $stream = \is_array($said) && \is_array($said['streams'] ?? null) ? $said['streams'][0] : null;
        self::assertIsArray($stream);
        self::assertSame('25/1', $stream['avg_frame_rate']);
        self::assertIsString($stream['duration']);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame(
            [$stream['width'], $stream['height'], (float) $stream['duration'], 25.0],
            [$facts->size->width, $facts->size->height, $facts->playing?->seconds, $facts->playing?->framesPerSecond],
        );
    }

    /**
     * Whole, cut short behind its index, and without one as a camera leaves it that gave out: ffmpeg makes it, exiftool
     * says who and when, and reads the same of what is left.
     */
    #[TestWith(['mp4', '-c:v libx264 -pix_fmt yuv420p'])]
    #[TestWith(['mov', '-c:v mjpeg -pix_fmt yuvj420p'])]
    #[TestWith(['3gp', '-c:v h263 -s 352x288'])]
    public function testAMovieTellsItsFactsAsFarAsItGoes(string $extension, string $as): void
    {
        $path = $this->folder.'/a.'.$extension;
        exec("ffmpeg -v error -f lavfi -i testsrc=size=320x180:rate=25:duration=3 $as -movflags +faststart "
            .escapeshellarg($path));
        ExifTool::write($path, [
            '-Keys:Make=Tarn Optical', '-Keys:Model=Heron 5', '-Keys:CreationDate=2026:05:02 21:31:40+02:00',
            '-QuickTime:CreateDate=2026:05:02 19:31:40',
        ]);
        $movie = (string) file_get_contents($path);
        $facts = $this->movie('whole.'.$extension, $movie);
        $theirs = ExifTool::read($this->folder.'/whole.'.$extension);
        self::assertSame([], $facts->problems);
        self::assertSame($theirs['CreationDate'], str_replace(
            ['-', 'T'],
            [':', ' '],
            (string) $facts->time?->at->clock,
        ).$facts->time?->at->offset);
        self::assertSame(
            [$theirs['Make'], $theirs['Model'], $theirs['ImageWidth'], $theirs['ImageHeight'], $theirs['Duration']],
            [
                $facts->camera->make,
                $facts->camera->model,
                $facts->size->width,
                $facts->size->height,
                (int) $facts->playing?->seconds,
            ],
        );
        $cut = $this->movie('cut.'.$extension, substr($movie, 0, -500));
        self::assertSame(['cut_short'], array_column($cut->problems, 'code'));
        self::assertEquals($facts->toArray(), $cut->toArray(), 'all of it stands before the pictures');
        $start = (int) strpos($movie, 'moov') - 4;
        $index = substr($movie, $start, (int) hexdec(bin2hex(substr($movie, $start, 4))));
        $unfinished = $this->movie('unfinished.'.$extension, str_replace($index, '', $movie));
        self::assertSame(['no_index', 'no_time'], array_column($unfinished->problems, 'code'));
        self::assertArrayNotHasKey('ImageWidth', ExifTool::read($this->folder.'/unfinished.'.$extension));
    }

    private function movie(string $name, string $bytes): CaptureFacts
    {
        return Capture::inZone(new \DateTimeZone('UTC'))->of($this->file($name, $bytes), 0)->facts;
    }

    public function testASoundTellsItsLength(): void
    {
        $path = $this->folder.'/a.wav';
        exec('ffmpeg -v error -f lavfi -i sine=duration=2.5 '.escapeshellarg($path));
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame([2.5, null], [$facts->playing?->seconds, $facts->playing?->framesPerSecond]);
    }

    public function testAMoviesOwnWallClockGoesBeforeItsHeader(): void
    {
        $zone = new \DateTimeZone('Europe/Berlin');
        $day = '2026-05-02T19:31:40+0200';
        $written = Capture::inZone($zone)->of(
            $this->file(
                'a.mov',
                Samples::mov(0, pack('N', 12 + \strlen($day))."\xA9day".pack('nn', \strlen($day), 0).$day),
            ),
            0,
        )->facts;
        self::assertSame(
            ['2026-05-02T19:31:40', '+02:00'],
            [$written->time?->at->text(), $written->time?->at->offset],
        );
        $counted = Capture::inZone($zone)->of($this->file('b.mov', Samples::mov()), 0)->facts; // 19:31:40 UTC
        self::assertSame(
            ['2026-05-02T21:31:40', '+02:00', 'movie_header'],
            [$counted->time?->at->text(), $counted->time?->at->offset, $counted->time?->from->value],
        );
        $never = Capture::inZone($zone)->of(
            $this->file('c.mov', Samples::mov(0)),
            1_777_716_000,
        )->facts; // many cameras leave the header at zero
        self::assertSame('file_time', $never->time?->from->value);
    }

    public function testABadSectorIsToldAndTheRestIsRead(): void
    {
        $path = $this->file(
            'a.jpg',
            substr_replace(Samples::of('jpg'), str_repeat("\xFF\xE0\xFF\xFF".str_repeat("\0", 65533), 2), 2, 0),
        ); // the Exif segment lies far behind the head
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of(FailingDrive::path($path, 131_100), 0)->facts;
        self::assertSame(['part_unreadable', 'no_time'], array_column($facts->problems, 'code'));
        self::assertStringContainsString(
            'A part of a.jpg could not be read (input/output error).',
            implode(' ', array_column($facts->problems, 'text')),
        );
    }

    /** Structures that point to one another, so that walking all of them would never end: only so much is looked at. */
    public function testTheWorkOnACraftedFileIsCapped(): void
    {
        // CIFF: a heap of two thousand records that are the same heap's beginning, at every depth
        $heap = pack('v', 0);
        $heap .= pack('V', 0);
        for ($depth = 0; $depth < 7; ++$depth) {
            $heap .= pack('v', 300).str_repeat(pack('vVV', 0x2800, \strlen($heap), 0), 300).pack('V', \strlen($heap));
        }
        $crw = 'II'.pack('V', 26).'HEAPCCDR'.pack('VVV', 0x00010002, 0, 0).$heap;
        // RIFF: nothing but empty lists
        $avi = 'RIFF'.pack('V', 600_004).'AVI '.str_repeat('LIST'.pack('V', 4).'hdrl', 50_000);
        // X3F: properties whose texts never end, a hundred times
        $text = str_repeat('A', 4000);
        $property = 'SECp'.pack('VVVVV', 0x00020000, 200, 0, 0, 2000).str_repeat(pack('VV', 0, 0), 200).$text;
        $x3f = 'FOVb'.pack('V', 0x00020002).str_repeat("\0", 300).$property;
        $x3f .= 'SECd'.pack('VV', 0x00020000, 100).str_repeat(
            pack('VV', 308, \strlen($property)).'PROP',
            100,
        ).pack('V', \strlen($x3f));
        foreach (['a.crw' => $crw, 'a.avi' => $avi, 'a.x3f' => $x3f] as $name => $bytes) {
            $reading = Capture::inZone(new \DateTimeZone('UTC'))->of($this->file($name, $bytes), 0);
            self::assertLessThan(256 * 1024, $reading->bytesRead, $name);
        }
    }

    public function testTheEmbeddedPictureIsTurnedOnceOnly(): void
    {
        $capture = Capture::inZone(new \DateTimeZone('UTC'));
        $own = $capture->picture($this->file('a.raf', Samples::of('raf')), false);
        self::assertSame([Samples::of('jpg'), 1], self::taken($own), 'this one says itself how it lies');
        $plain = $capture->picture($this->file('a.nef', Samples::of('nef')), false);
        self::assertSame([Samples::plainJpeg(), 6], self::taken($plain), 'this one does not');
        $whole = $capture->picture($this->file('a.jpg', Samples::of('jpg')), true);
        self::assertSame([Samples::of('jpg'), 1], self::taken($whole));
        self::assertNull($capture->picture($this->file('a.iiq', Samples::of('iiq')), true));
        foreach (['cr2', 'orf', 'crw', 'x3f', 'pef', 'arw'] as $format) {
            self::assertSame(
                Samples::plainJpeg(),
                self::taken($capture->picture($this->file('a.'.$format, Samples::of($format)), false))[0],
                $format,
            );
        }
    }

    /** Nothing is read that would take all the memory of whoever shows it. */
    public function testAPictureThatIsTooLargeIsNotReadToBeShown(): void
    {
        $path = $this->file('a.jpg', Samples::plainJpeg());
        $file = fopen($path, 'r+');
        self::assertIsResource($file);
        ftruncate($file, 300_000_001); // a sparse file
        fclose($file);
        $this->expectExceptionMessage('a picture of 300 MB is too large to be shown');
        Capture::inZone(new \DateTimeZone('UTC'))->picture($path, false);
    }

    /** What a compact camera says in units and steps, and whose number is a serial number; against exiftool. */
    #[DataProvider('ciffCameras')]
    public function testCiffIsReadAsExiftoolReadsIt(string $model, int $shutter, int $aperture): void
    {
        $settings = [25 => 32] + array_fill(0, 46, 0);
        $shot = [2 => 160 + 32, 21 => $aperture, 22 => $shutter & 0xFFFF] + array_fill(0, 34, 0);
        ksort($settings);
        ksort($shot);
        [$settings[0], $shot[0]] = [92, 68]; // their own lengths
        $path = $this->file('a.crw', Samples::crwOf($model, [
            [0x102D, pack('v*', ...$settings)], [0x1029, pack('v4', 2, 227, 0, 0)], [0x102A, pack('v*', ...$shot)],
        ]));
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        $found = json_decode((string) shell_exec(
            'exiftool -json -FocalLength# -ExposureTime# -FNumber# -ISO -SerialNumber '.escapeshellarg($path),
        ), true);
        self::assertIsArray($found);
        self::assertIsArray($found[0]);
        foreach ([
            'FocalLength' => $facts->optics->focalMillimetres, 'ExposureTime' => $facts->exposure->seconds,
            'FNumber' => $facts->optics->fNumber, 'ISO' => $facts->exposure->iso,
        ] as $name => $ours) {
            self::assertIsNumeric($found[0][$name] ?? null, $name);
            self::assertEqualsWithDelta((float) $found[0][$name], $ours, 1e-6 * (float) $found[0][$name], $name);
        }
        $serial = $found[0]['SerialNumber'] ?? null;
        self::assertSame(\is_scalar($serial) ? ltrim((string) $serial, '0') : null, $facts->camera->serial);
    }

    /** @return iterable<string, array{string, int, int}> */
    public static function ciffCameras(): iterable
    {
        yield 'a compact one' => ['Heron 5', 160 + 20, 96 + 12];
        yield 'one with a serial number' => ['Canon EOS D60', 224, 128];
        yield 'one that has it in hexadecimal digits' => ['Canon EOS D30', 96 + 16, 64 + 20];
        yield 'a long exposure' => ['Heron 5', -64, 160];
    }

    /** exiftool finds in it what is read here. */
    #[DataProvider('profiles')]
    public function testExifThatAPngKeepsAsTextIsRead(string $type, string $name, string $preamble): void
    {
        $png = (string) file_get_contents($this->file('plain.png', Samples::of('png')));
        $at = (int) strpos($png, 'eXIf') - 4;
        self::assertGreaterThan(0, $at);
        $length = unpack('N', $png, $at)[1] ?? 0;
        self::assertIsInt($length);
        $profile = $preamble.substr($png, $at + 8, $length);
        $text = "\n$name\n".str_pad((string) \strlen($profile), 8, ' ', \STR_PAD_LEFT)."\n"
            .chunk_split(bin2hex($profile), 72, "\n");
        $content = "Raw profile type $name\0".('zTXt' === $type ? "\0".gzcompress($text) : $text);
        $chunk = pack('N', \strlen($content)).$type.$content.pack('N', crc32($type.$content));
        $path = $this->file('a.png', substr($png, 0, $at).$chunk.substr($png, $at + 12 + $length));
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        $theirs = json_decode(
            (string) shell_exec('exiftool -json -DateTimeOriginal -Model -ISO '.escapeshellarg($path)),
            true,
        );
        self::assertIsArray($theirs);
        self::assertIsArray($theirs[0]);
        self::assertNotNull($facts->time);
        self::assertSame(
            [$theirs[0]['DateTimeOriginal'] ?? null, $theirs[0]['Model'] ?? null, $theirs[0]['ISO'] ?? null],
            [substr(strtr($facts->time->at->text(), '-T', ': '), 0, 19), $facts->camera->model, $facts->exposure->iso],
        );
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function profiles(): iterable
    {
        yield 'compressed' => ['zTXt', 'exif', "Exif\0\0"];
        yield 'plain' => ['tEXt', 'exif', ''];
        yield 'named as in JPEG' => ['zTXt', 'APP1', "Exif\0\0"];
    }

    public function testAPngProfileThatIsNotWholeTellsNothing(): void
    {
        foreach (["exif\n 9\n00", "exif\n 1\nzz", 'exif', "exif\n 2\n000"] as $text) {
            $content = "Raw profile type exif\0".$text;
            $chunk = pack('N', \strlen($content)).'tEXt'.$content.pack('N', crc32('tEXt'.$content));
            $path = $this->file('a.png', "\x89PNG\r\n\x1A\n".$chunk.pack('N', 0).'IEND'.pack('N', crc32('IEND')));
            self::assertFalse(Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts->isTimeCertain(), $text);
        }
    }

    /** exiftool puts the packet into an item of its own (ISO 16684-3). */
    public function testStarsInTheXmpOfAHeifAreRead(): void
    {
        $path = $this->file('a.avif', Samples::of('avif'));
        ExifTool::write($path, ['-Exif:Rating=', '-Rating=', '-XMP-xmp:Rating=3']);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame(3, $facts->notes->rating);
        self::assertSame(
            '2026-05-02T19:31:40',
            substr($facts->time?->at->text() ?? '', 0, 19),
            'Exif still tells when',
        );
    }

    #[DataProvider('packets')]
    public function testXmpPackets(string $packet, ?string $time, ?int $rating): void
    {
        $exif = new ExifReading('a.jpg');
        XmpFacts::add(
            '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"'
                .' xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:xap="http://ns.adobe.com/xap/1.0/"'
                .' xmlns:exif="http://ns.adobe.com/exif/1.0/">'.$packet.'</rdf:RDF></x:xmpmeta>',
            $exif,
        );
        self::assertSame([$time, $rating], [$exif->capturedAt?->text(), $exif->rating]);
    }

    /** @return iterable<string, array{string, ?string, ?int}> */
    public static function packets(): iterable
    {
        yield 'attributes' => [
            '<rdf:Description xmp:Rating="2" exif:DateTimeOriginal="2026-05-02T19:31:40.25"/>',
            '2026-05-02T19:31:40.250',
            2,
        ];
        yield 'elements' => [
            '<rdf:Description><xmp:CreateDate>2026-05-02T19:31Z</xmp:CreateDate><xmp:Rating> 5 </xmp:Rating>'
                .'</rdf:Description>',
            '2026-05-02T19:31:00',
            5,
        ];
        yield 'written as Exif writes it' => [
            '<rdf:Description exif:DateTimeOriginal="2026:05:02 19:31:40+02:00"/>', '2026-05-02T19:31:40', null,
        ];
        yield 'another prefix of the same namespace' => ['<rdf:Description xap:Rating="3"/>', null, 3];
        yield 'nonsense' => ['<rdf:Description xmp:Rating="9" xmp:CreateDate="2026-13-45T99:00:00"/>', null, null];
        yield 'a rejected picture has no stars' => ['<rdf:Description xmp:Rating="-1"/>', null, null];
        yield 'no XML at all' => [str_repeat('<xmp:Rating ', 5000), null, null];
    }

    /** @return array{string, int} the encoded picture, and how it must be turned */
    private static function taken(?ShownPicture $picture): array
    {
        self::assertNotNull($picture);
        $range = $picture->range;

        return [
            (string) file_get_contents($picture->path, offset: $range->offset, length: $range->length),
            $picture->turn->value,
        ];
    }

    /** An index of two pictures (CIPA DC-007, table 3). */
    private static function multiPicture(string $entries): string
    {
        $tiff = new TiffWriter();

        return $tiff->finished(
            $tiff->directory(
                [
                    0xB000 => [TiffWriter::UNDEFINED, '0100'],
                    0xB001 => [TiffWriter::LONG, [2]],
                    0xB002 => [TiffWriter::UNDEFINED, $entries],
                ],
            ),
        );
    }
}
