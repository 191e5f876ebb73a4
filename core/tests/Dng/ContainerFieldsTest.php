<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Dng;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Dng\ContainerFields;
use Velvet\Core\Dng\RawTag;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Core\Tests\TemporaryFolder;

/** Exif is found in every container of raw files; a TIFF made of it says to exiftool what the file says itself. */
final class ContainerFieldsTest extends TestCase
{
    use TemporaryFolder;

    private const TAGS = '-EXIF:Make -EXIF:Model -EXIF:DateTimeOriginal -EXIF:ExposureTime -EXIF:FNumber '
        .'-EXIF:ISO -EXIF:FocalLength -EXIF:LensModel -EXIF:GPSLatitude';

    #[DataProvider('formats')]
    public function testExifIsFoundInFull(string $format): void
    {
        $path = $this->file('T0001.'.$format, Samples::of($format));
        $fields = ContainerFields::of(FileBytes::open($path), $path);
        self::assertSame('Tarn Optical', $fields->text(RawTag::MAKE));
        $tiff = new TiffWriter();
        [$exif, $gps] = [$tiff->directory($fields->exif), [] === $fields->gps ? 0 : $tiff->directory($fields->gps)];
        $kept = array_intersect_key($fields->first, [RawTag::MAKE => true, RawTag::MODEL => true]);
        $made = $this->file(
            'made.tif',
            $tiff->finished(
                $tiff->directory(
                    $kept + [
                        RawTag::EXIF_IFD => [TiffWriter::LONG, $exif],
                    ] + (0 === $gps ? [] : [RawTag::GPS_IFD => [TiffWriter::LONG, $gps]]),
                ),
            ),
        );
        $of = static fn (string $file): string => (string) shell_exec(
            'exiftool -s '.self::TAGS.' '.escapeshellarg($file),
        );
        self::assertStringContainsString('DateTimeOriginal', $of($path));
        self::assertSame($of($path), $of($made));
    }

    /** @return iterable<string, array{string}> */
    public static function formats(): iterable
    {
        foreach (['raf', 'cr3', 'mrw', 'cr2', 'orf', 'rw2', 'nef', 'arw', 'pef', 'srw', '3fr'] as $format) {
            yield $format => [$format];
        }
    }

    public function testAFileThatHasNoneIsNothingToStumbleOver(): void
    {
        $path = $this->file('T0001.RAW', str_repeat('.', 5000));
        $fields = ContainerFields::of(FileBytes::open($path), $path);
        self::assertSame([[], [], []], [$fields->exif, $fields->gps, $fields->jpegs]);
        self::assertSame('', $fields->text(RawTag::MAKE));
    }
}
