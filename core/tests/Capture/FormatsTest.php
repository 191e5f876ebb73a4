<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\ExifReading;
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
        self::assertSame([96, 64], [$facts->width, $facts->height]);
    }

    public function testTheMakersHeadersAreKnown(): void
    {
        foreach (["II\x2A\0", "MM\0\x2A", 'IIRO', 'IIRS', 'MMOR', "IIU\0"] as $header) {
            self::assertTrue((new TiffReader())->recognises($header.'........'));
        }
        self::assertFalse((new TiffReader())->recognises("II\x2B\0........"));
    }

    public function testPlaceCreatorAndBiasAgreeWithExiftool(): void
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write($path, ['-GPSLatitude=54.3213', '-GPSLatitudeRef=S', '-GPSLongitude=10.1349', '-GPSLongitudeRef=E', '-Artist=Ines Varga-Holt', '-Copyright=© 2026 Ines Varga-Holt', '-ExposureCompensation=-1.6666', '-n']);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        $theirs = ExifTool::read($path);
        self::assertIsNumeric($theirs['GPSLatitude']);
        self::assertIsNumeric($theirs['GPSLongitude']);
        self::assertIsNumeric($theirs['ExposureCompensation']);
        self::assertEqualsWithDelta([(float) $theirs['GPSLatitude'], (float) $theirs['GPSLongitude']], $facts->place, 1e-5);
        self::assertSame([$theirs['Artist'], $theirs['Copyright']], [$facts->artist, $facts->copyright]);
        self::assertEqualsWithDelta((float) $theirs['ExposureCompensation'], $facts->exposureBias, 1e-6);
    }

    public function testHighSensitivitiesAreReadFromTheirLongField(): void // EXIF 2.32, 4.6.5 D
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write($path, ['-EXIF:ISO=65535', '-RecommendedExposureIndex=102400']);
        self::assertSame(102_400, Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts->iso);
    }

    public function testXmpTellsTheTimeWhereExifDoesNot(): void
    {
        $path = $this->folder.'/a.jpg';
        Vips::write($path);
        ExifTool::write($path, ['-XMP-photoshop:DateCreated=2026:05:02 19:31:40+02:00', '-XMP-xmp:Rating=3']);
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        self::assertSame(['2026-05-02T19:31:40', '+02:00', 'xmp', 3], [$facts->capturedAt?->text(), $facts->capturedAt?->offset, $facts->capturedFrom?->value, $facts->rating]);
    }

    #[DataProvider('packets')]
    public function testXmpPackets(string $packet, ?string $time, ?int $rating): void
    {
        $exif = new ExifReading('a.jpg');
        XmpFacts::add($packet, $exif);
        self::assertSame([$time, $rating], [$exif->capturedAt?->text(), $exif->rating]);
    }

    /** @return iterable<string, array{string, ?string, ?int}> */
    public static function packets(): iterable
    {
        yield 'attributes' => ['<rdf:Description xmp:Rating="2" exif:DateTimeOriginal="2026-05-02T19:31:40.25"/>', '2026-05-02T19:31:40.250', 2];
        yield 'elements' => ['<xmp:CreateDate>2026-05-02T19:31Z</xmp:CreateDate><xmp:Rating> 5 </xmp:Rating>', '2026-05-02T19:31:00', 5];
        yield 'nonsense' => ['<rdf:Description xmp:Rating="9" xmp:CreateDate="2026-13-45T99:00:00"/>', null, null];
        yield 'a rejected picture has no stars' => ['<rdf:Description xmp:Rating="-1"/>', null, null];
        yield 'no XML at all' => [str_repeat('<xmp:Rating ', 5000), null, null];
    }
}
