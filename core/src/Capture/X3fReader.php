<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * X3F (well known): sections, found through a directory whose place stands in the file's last four bytes. `PROP` holds
 * names and values as text, `IMA2` pictures, JPEGs among them. Little-endian, text in UTF-16.
 */
final class X3fReader implements CaptureReader
{
    private const MOST_SECTIONS = 100;
    private const MOST_PROPERTIES = 200;
    private const MOST_TEXT = 64 * 1024;
    private const LONGEST_WORD = 128; // characters
    private const JPEG = 18;
    private const IMAGE_HEADER = 28; // bytes before the picture's own

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, 'FOVb') ? Container::X3f : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $sections = self::sections($bytes);
        if ([] === $sections) {
            return $exif->facts(null, null, problems: [CaptureProblem::cutShort($name)]);
        }
        $jpegs = $properties = [];
        foreach ($sections as [$type, $offset, $length]) {
            if ('PROP' === $type) {
                $properties = [] === $properties
                    ? self::properties($bytes, $offset, $length)
                    : $properties; // there is one
            } elseif ('IMA2' === $type && self::JPEG === TiffBlock::number($bytes->read($offset + 12, 4), 0, 4, true)) {
                $jpegs[] = ByteRange::within(
                    $bytes->size(),
                    $offset + self::IMAGE_HEADER,
                    $length - self::IMAGE_HEADER,
                );
            }
        }
        $jpegs = array_values(array_filter($jpegs));
        usort($jpegs, static fn (ByteRange $a, ByteRange $b): int => $a->length <=> $b->length);
        $largest = [] === $jpegs ? null : $jpegs[\count($jpegs) - 1];
        if (null !== $largest) { // newer files keep their Exif in the JPEG
            JpegReader::segments($bytes, $largest->offset, $exif);
        }
        self::take($properties, $exif);
        $header = $bytes->read(0, 52);
        $at = TiffBlock::number($header, 6, 2, true) >= 4 ? 40 : 28; // after identifier, version and marks, which grew
        $exif->orientation ??= ExifReading::turned(TiffBlock::number($header, $at + 8, 4, true));

        return $exif->facts(
            TiffBlock::number($header, $at, 4, true),
            TiffBlock::number($header, $at + 4, 4, true),
            $jpegs[0] ?? null,
            $largest,
        );
    }

    /** @return list<array{string, int, int}> type, offset and length of the sections that lie within the file */
    private static function sections(FileBytes $bytes): array
    {
        $directory = TiffBlock::number($bytes->read($bytes->size() - 4, 4), 0, 4, true);
        $head = $bytes->read($directory, 12);
        if (!str_starts_with($head, 'SECd')) {
            return [];
        }
        $sections = [];
        $table = $bytes->read($directory + 12, 12 * min(self::MOST_SECTIONS, TiffBlock::number($head, 8, 4, true)));
        for ($at = 0; $at + 12 <= \strlen($table); $at += 12) {
            [$offset, $length] = [TiffBlock::number($table, $at, 4, true), TiffBlock::number($table, $at + 4, 4, true)];
            if (null !== ByteRange::within($bytes->size(), $offset, $length)) {
                $sections[] = [substr($table, $at + 8, 4), $offset, $length];
            }
        }

        return $sections;
    }

    /** @return array<string, string> */
    private static function properties(FileBytes $bytes, int $offset, int $length): array
    {
        $header = $bytes->read($offset, 24);
        $count = min(self::MOST_PROPERTIES, TiffBlock::number($header, 8, 4, true));
        $table = $bytes->read($offset + 24, 8 * $count);
        $start = 24 + 8 * $count;
        $text = $bytes->read($offset + $start, min(self::MOST_TEXT, $length - $start));
        $word = static function (int $character) use ($text): string {
            $end = 2 * $character;
            while (
                $end + 1 < \strlen($text)
                && $end - 2 * $character < 2 * self::LONGEST_WORD
                && "\0\0" !== substr($text, $end, 2)
            ) {
                $end += 2;
            }

            return mb_convert_encoding(
                substr($text, 2 * $character, max(0, $end - 2 * $character)),
                'UTF-8',
                'UTF-16LE',
            );
        };
        $properties = [];
        for ($at = 0; $at + 8 <= \strlen($table); $at += 8) {
            $properties[$word(TiffBlock::number($table, $at, 4, true))] ??= $word(
                TiffBlock::number($table, $at + 4, 4, true),
            );
        }

        return $properties;
    }

    /** @param array<string, string> $properties */
    private static function take(array $properties, ExifReading $exif): void
    {
        $text = static fn (string $name): ?string => '' === trim($properties[$name] ?? '')
            ? null
            : trim(mb_scrub($properties[$name], 'UTF-8'));
        $number = static function (string $name, float $most) use ($properties): ?float {
            $value = $properties[$name] ?? null;

            return is_numeric($value) && $value > 0 && $value <= $most ? (float) $value : null;
        };
        $exif->make ??= $text('CAMMANUF');
        $exif->model ??= $text('CAMMODEL');
        $exif->serial ??= $text('CAMSERIAL');
        $exif->fNumber ??= $number('APERTURE', 256);
        $exif->focalMillimetres ??= $number('FLENGTH', 20_000);
        // EXPTIME is how long the sensor gathers light: what was set stands in SHUTTER
        $microseconds = $number('EXPTIME', 86_400e6);
        $exif->exposureSeconds ??= $number('SHUTTER', 86_400)
            ?? (null === $microseconds ? null : $microseconds / 1e6);
        $iso = $number('ISO', 10_000_000);
        $exif->iso ??= null === $iso ? null : (int) $iso;
        $seconds = $number('TIME', 0xFFFFFFFF); // of the camera's wall clock, since 1970
        $exif->takeTime(
            null === $seconds ? null : ShotTime::fromClockSeconds((int) $seconds),
            TimeSource::ExifOriginal,
        );
    }
}
