<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureFacts;
use Velvet\Core\Capture\ShotTime;

/**
 * Every fact of every format beside what exiftool (from Debian, written by others) reads in the same file, in one
 * table: `=` both say the same, `.` neither says anything, `+` only we do. Anything else fails.
 */
final class FactsTableTest extends ReaderTestCase
{
    /** exiftool's names for our facts; the first that it states counts. */
    private const NAMES = [
        'captured_at' => ['DateTimeOriginal', 'CreateDate'], 'offset' => ['OffsetTimeOriginal'], 'make' => ['Make'],
        'model' => ['Model'], 'serial' => ['SerialNumber'],
        'lens' => ['LensModel'], 'exposure_s' => ['ExposureTime', 'ShutterSpeedValue'],
        'f_number' => ['FNumber', 'ApertureValue'], 'iso' => ['ISO'], 'focal_mm' => ['FocalLength'],
        'exposure_bias' => ['ExposureCompensation'], 'width' => ['ImageWidth'], 'height' => ['ImageHeight'],
        'orientation' => ['Orientation', 'Rotation'], 'rating' => ['Rating'],
        'latitude' => ['GPSLatitude'], 'longitude' => ['GPSLongitude'], 'artist' => ['Artist'],
        'copyright' => ['Copyright'], 'image_number' => ['ImageNumber', 'FileNumber'],
        'exposure_mode' => ['ExposureMode'],
    ];

    /** Where exiftool calls the embedded picture's size the image's, the raw's has another name, or none (null). */
    private const SIZES = [
        'cr2' => ['ExifImageWidth', 'ExifImageHeight'], 'raf' => null, 'iiq' => null,
    ];

    public function testEveryFactOfEveryFormatAgreesWithExiftool(): void
    {
        foreach (Samples::all() as $format => $bytes) {
            $this->file('all/a.'.$format, $bytes);
        }
        $theirs = [];
        $json = json_decode((string) shell_exec('exiftool -q -json -n '.escapeshellarg($this->folder.'/all')), true);
        self::assertIsArray($json);
        foreach ($json as $tags) {
            self::assertIsArray($tags);
            self::assertIsString($tags['FileName']);
            $theirs[substr($tags['FileName'], 2)] = $tags;
        }
        $rows = [];
        $differences = [];
        foreach (array_keys(Samples::all()) as $format) {
            $facts = $this->capture()->of($this->folder.'/all/a.'.$format, 0)->facts;
            $marks = '';
            foreach (self::NAMES as $fact => $names) {
                if (('width' === $fact || 'height' === $fact) && \array_key_exists($format, self::SIZES)) {
                    $names = null === self::SIZES[$format] ? [] : [self::SIZES[$format]['width' === $fact ? 0 : 1]];
                }
                $mark = self::mark(self::ours($facts, $fact), self::theirs($theirs[$format] ?? [], $fact, $names));
                $marks .= str_pad($mark, 4);
                if ('≠' === $mark || '-' === $mark) {
                    $differences[] = "$format $fact";
                }
            }
            $rows[] = str_pad($format, 6).$marks;
        }
        $heads = 'format'.implode(
            '',
            array_map(
                static fn (string $fact): string => str_pad(substr(str_replace('_', '', $fact), 0, 3), 4),
                array_keys(self::NAMES),
            ),
        );
        fwrite(\STDERR, "\n".$heads."\n".implode("\n", $rows)."\n");
        self::assertSame([], $differences);
    }

    private static function mark(int|float|string|null $ours, int|float|string|null $theirs): string
    {
        return match (true) {
            null === $ours && null === $theirs => '.',
            null === $theirs => '+',
            null === $ours => '-',
            is_numeric($ours) && is_numeric($theirs) => abs(
                (float) $ours - (float) $theirs,
            ) <= 1e-6 * max(1, abs((float) $theirs)) ? '=' : '≠',
            default => $ours === $theirs ? '=' : '≠',
        };
    }

    private static function ours(CaptureFacts $facts, string $fact): int|float|string|null
    {
        $value = $facts->toArray()[$fact] ?? null;

        return match ($fact) {
            'captured_at' => $facts->time?->at->clock,
            'exposure_mode' => $facts->exposure->mode?->value,
            default => \is_scalar($value) && !\is_bool($value) ? $value : null,
        };
    }

    /**
     * @param array<mixed> $tags
     * @param list<string> $names
     */
    private static function theirs(array $tags, string $fact, array $names): int|float|string|null
    {
        foreach ($names as $name) {
            $value = $tags[$name] ?? null;
            if (!\is_scalar($value) || \is_bool($value) || 0 === $value) {
                continue;
            }

            return match (true) {
                'captured_at' === $fact => ShotTime::fromExif((string) $value)?->clock,
                'Rotation' === $name => [0 => 1, 90 => 6, 180 => 3, 270 => 8][(int) $value] ?? null,
                default => $value,
            };
        }

        return null;
    }
}
