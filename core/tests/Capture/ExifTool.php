<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Assert;
use Velvet\Core\Capture\CaptureFacts;

/** exiftool from Debian: an independent program that writes tags for the tests and reads them for comparison. */
final class ExifTool
{
    public const TAGS = [
        '-DateTimeOriginal=2026:05:02 19:31:40', '-SubSecTimeOriginal=5', '-OffsetTimeOriginal=+02:00',
        '-Make=Tarn Optical', '-Model=Heron 5', '-SerialNumber=TO5-204417',
        '-LensModel=Tarn 24-70mm F2.8', '-ExposureTime=1/250', '-FNumber=2.8', '-ISO=800', '-FocalLength=85',
        '-Orientation#=6', '-IFD0:Rating=4',
        '-EXIF:Artist=Ines Varga-Holt', '-EXIF:Copyright=© 2026 Ines Varga-Holt', '-EXIF:ExposureCompensation=-5/3',
        '-EXIF:ExposureMode#=2', '-EXIF:ImageNumber=417',
        '-GPSLatitude=54.5', '-GPSLatitudeRef=S', '-GPSLongitude=10.25', '-GPSLongitudeRef=E',
    ];

    /** @param list<string> $tags */
    public static function write(string $path, array $tags = self::TAGS): void
    {
        exec(
            'exiftool -q -q -overwrite_original '.implode(
                ' ',
                array_map(escapeshellarg(...), $tags),
            ).' '.escapeshellarg($path).' 2>&1',
            $output,
            $result,
        );
        Assert::assertSame(0, $result, implode("\n", $output));
    }

    /** @return array<string, mixed> */
    public static function read(string $path): array
    {
        $json = json_decode((string) shell_exec('exiftool -json -n '.escapeshellarg($path)), true);
        Assert::assertIsArray($json);
        Assert::assertIsArray($json[0]);

        /** @var array<string, mixed> */
        return $json[0];
    }

    public static function assertAgrees(CaptureFacts $facts, string $path): void
    {
        $theirs = self::read($path);
        $number = static fn (string $tag): ?float => is_numeric($theirs[$tag] ?? null) ? (float) $theirs[$tag] : null;
        $text = static fn (string $tag): ?string => \is_scalar($theirs[$tag] ?? null) ? (string) $theirs[$tag] : null;
        Assert::assertSame(
            $text('DateTimeOriginal'),
            null === $facts->time ? null : str_replace(['-', 'T'], [':', ' '], $facts->time->at->clock),
        );
        Assert::assertSame($text('Make'), $facts->camera->make);
        Assert::assertSame($text('Model'), $facts->camera->model);
        Assert::assertSame($text('SerialNumber'), $facts->camera->serial);
        Assert::assertSame($text('LensModel'), $facts->optics->lens);
        Assert::assertEqualsWithDelta($number('ExposureTime'), $facts->exposure->seconds, 1e-9);
        Assert::assertEqualsWithDelta($number('FNumber'), $facts->optics->fNumber, 1e-9);
        Assert::assertEqualsWithDelta($number('FocalLength'), $facts->optics->focalMillimetres, 1e-9);
        Assert::assertEquals($number('ISO'), $facts->exposure->iso);
        Assert::assertEquals($number('Orientation'), $facts->size->orientation);
    }
}
