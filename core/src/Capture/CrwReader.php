<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * CRW, the CIFF structure (well known): heaps of records within heaps. A heap's directory stands at its end, and its
 * last four bytes say where. A record's tag tells its type; small values stand in the directory itself.
 */
final class CrwReader implements CaptureReader
{
    private const DEEPEST = 8;
    private const MOST_RECORDS = 2000;
    private const RECORD = 10; // bytes in the directory: tag, length, offset

    private const IN_DIRECTORY = 0x4000;
    private const STORAGE = 0xC000;
    private const TYPE = 0x3800;
    private const HEAPS = [0x2800, 0x3000];

    private const MAKE_AND_MODEL = 0x080A; // two texts, each ended by NUL
    private const FOCAL_LENGTH = 0x1029;   // SHORTs: kind, length in units
    private const SETTINGS = 0x102D;       // SHORTs
    private const UNITS = 2 * 25;          // within them: units to a millimetre
    private const SHOT = 0x102A;           // SHORTs
    private const BASE_ISO = 2 * 2;        // within them, all of them in 32nds of a step
    private const APERTURE = 2 * 21;
    private const SHUTTER = 2 * 22;
    private const ISO = 0x101C;            // SHORT
    private const TIME = 0x180E;           // LONG: seconds of the camera's wall clock since 1970
    private const SERIAL = 0x180B;         // LONG; other cameras than these keep something else there
    private const WITH_SERIAL = '/\bEOS\b/';
    private const WITH_HEXADECIMAL_SERIAL = '/\bEOS D30\b/';
    private const IMAGE = 0x1810;          // LONG width, LONG height, FLOAT pixel aspect, signed LONG turn in degrees
    private const FILE_NUMBER = 0x1817;    // LONG
    private const EXPOSURE = 0x1818;       // FLOATs: bias, Tv, Av (APEX)
    private const JPEG = 0x2007;
    private const THUMBNAIL = 0x2008;

    public function recognises(string $head): ?Container
    {
        return 'HEAPCCDR' === substr($head, 6, 8) && \in_array(substr($head, 0, 2), ['II', 'MM'], true)
            ? Container::Crw
            : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $head = $bytes->read(0, 6);
        $little = str_starts_with($head, 'II');
        $start = TiffBlock::number($head, 2, 4, $little);
        $records = [];
        $left = self::MOST_RECORDS;
        if (!self::heap($bytes, $start, $bytes->size() - $start, $little, self::DEEPEST, $records, $left)) {
            return $exif->facts(null, null, problems: [CaptureProblem::cutShort($name)]);
        }
        $value = static fn (int $tag, int $most): string => isset($records[$tag]) ? $bytes->read(
            $records[$tag][0],
            min($most, $records[$tag][1]),
        ) : '';
        [$make, $model] = [...explode("\0", $value(self::MAKE_AND_MODEL, 256)), '', ''];
        $exif->make = self::text($make);
        $exif->model = self::text($model);
        $number = static fn (int $tag, int $at, int $width): ?int => \strlen($value($tag, $at + $width)) < $at + $width
            ? null
            : TiffBlock::number(
                $value($tag, $at + $width),
                $at,
                $width,
                $little,
            );
        $exif->serial = self::serial($number(self::SERIAL, 0, 4) ?? 0, $exif->model ?? '');
        $focal = self::positive($number(self::FOCAL_LENGTH, 2, 2));
        $units = self::positive($number(self::SETTINGS, self::UNITS, 2)) ?? 1;
        $exif->focalMillimetres = null === $focal ? null : $focal / $units;
        $exif->imageNumber = self::positive($number(self::FILE_NUMBER, 0, 4));
        $exif->orientation = ExifReading::turned($number(self::IMAGE, 12, 4) ?? 0);
        $seconds = $number(self::TIME, 0, 4) ?? 0;
        $exif->takeTime(0 === $seconds ? null : ShotTime::fromClockSeconds($seconds), TimeSource::ExifOriginal);
        self::exposure($value(self::EXPOSURE, 12), $little, $exif);
        $steps = static fn (int $at): ?float => self::steps($number(self::SHOT, $at, 2) ?? 0);
        $iso = $steps(self::BASE_ISO);
        $exif->iso = self::positive($number(self::ISO, 0, 2))
            ?? (null === $iso ? null : (int) round(2 ** $iso * 100 / 32));
        [$shutter, $aperture] = [$steps(self::SHUTTER), $steps(self::APERTURE)];
        $exif->exposureSeconds ??= null === $shutter ? null : 2 ** -$shutter;
        $exif->fNumber ??= null === $aperture ? null : 2 ** ($aperture / 2);
        $range = static fn (int $tag): ?ByteRange => isset($records[$tag])
            ? ByteRange::within($bytes->size(), ...$records[$tag])
            : null;

        return $exif->facts(
            $number(self::IMAGE, 0, 4),
            $number(self::IMAGE, 4, 4),
            $range(self::THUMBNAIL),
            $range(self::JPEG),
        );
    }

    /**
     * Adds a heap's records, and those of the heaps in it.
     *
     * @param array<int, array{int, int}> $records offset in the file and length, by tag; the first of a tag counts
     * @param int                         $left    records of the whole file that may still be looked at: heaps can
     *                                             point to one another
     *
     * @return bool whether its directory could be found
     */
    private static function heap(
        FileBytes $bytes,
        int $start,
        int $length,
        bool $little,
        int $depth,
        array &$records,
        int &$left,
    ): bool {
        $directory = TiffBlock::number($bytes->read($start + $length - 4, 4), 0, 4, $little);
        if ($length < 6 || $directory < 1 || $directory > $length - 6) {
            return false;
        }
        $count = TiffBlock::number($bytes->read($start + $directory, 2), 0, 2, $little);
        $table = $bytes->read($start + $directory + 2, min($count, $left) * self::RECORD);
        for ($at = 0; $at + self::RECORD <= \strlen($table) && $left > 0; $at += self::RECORD) {
            --$left;
            $tag = TiffBlock::number($table, $at, 2, $little);
            $size = TiffBlock::number($table, $at + 2, 4, $little);
            $offset = TiffBlock::number($table, $at + 6, 4, $little);
            if (self::IN_DIRECTORY === ($tag & self::STORAGE)) {
                $records[$tag & 0x3FFF] ??= [$start + $directory + 2 + $at + 2, 8];
            } elseif ($offset + $size > $directory) {
                continue; // values lie before their directory
            } elseif (\in_array($tag & self::TYPE, self::HEAPS, true)) {
                if ($depth > 0) {
                    self::heap($bytes, $start + $offset, $size, $little, $depth - 1, $records, $left);
                }
            } else {
                $records[$tag & 0x3FFF] ??= [$start + $offset, $size];
            }
        }

        return true;
    }

    /** Times and apertures are in APEX: seconds are 2^-Tv, f-numbers 2^(Av/2) (EXIF 2.32, annex C). */
    private static function exposure(string $value, bool $little, ExifReading $exif): void
    {
        $floats = 12 === \strlen($value) ? unpack($little ? 'g3' : 'G3', $value) : false;
        if (false === $floats) {
            return;
        }
        [$bias, $time, $aperture] = array_map(
            static fn (mixed $float): float => \is_float($float) && is_finite($float) && abs($float) <= 32
                ? $float
                : 0.0,
            array_values($floats),
        );
        $exif->exposureBias = $bias;
        $exif->exposureSeconds = 0.0 === $time ? null : 2 ** -$time;
        $exif->fNumber = 0.0 === $aperture ? null : 2 ** ($aperture / 2);
    }

    /**
     * A SHORT in 32nds of a step, where 12 and 20 stand for a third and two thirds (from memory); null where it is 0.
     */
    private static function steps(int $number): ?float
    {
        $signed = $number > 0x7FFF ? $number - 0x10000 : $number;
        $size = abs($signed);
        $part = match ($size & 31) {
            12 => 32 / 3,
            20 => 64 / 3,
            default => $size & 31,
        };

        return 0 === $signed ? null : ($signed <=> 0) * (($size & ~31) + $part) / 32;
    }

    private static function serial(int $number, string $model): ?string
    {
        if (0 === $number || 1 !== preg_match(self::WITH_SERIAL, $model)) {
            return null;
        }

        return 1 === preg_match(self::WITH_HEXADECIMAL_SERIAL, $model)
            ? \sprintf('%x-%05d', $number >> 16, $number & 0xFFFF)
            : (string) $number;
    }

    private static function positive(?int $number): ?int
    {
        return null === $number || $number <= 0 ? null : $number;
    }

    private static function text(string $text): ?string
    {
        $text = trim($text);

        return '' === $text || !mb_check_encoding($text, 'UTF-8') ? null : $text;
    }
}
