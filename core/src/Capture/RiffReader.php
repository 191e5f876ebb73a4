<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\XmpPacket;

/**
 * RIFF files, little-endian: WebP pictures (RFC 9649), AVI movies and WAV voice notes. A sound file tells when it was
 * made in the `bext` chunk (EBU Tech 3285) or in an `INFO` list, to which EXIF 2.32 (5.5) adds the time of day; AVI has
 * `IDIT` (common practice).
 */
final class RiffReader implements CaptureReader
{
    private const MOST_CHUNKS = 1000;
    private const DEEPEST = 4;
    private const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

    public function recognises(string $head): ?Container
    {
        return !str_starts_with($head, 'RIFF') ? null : match (substr($head, 8, 4)) {
            'WEBP' => Container::Webp,
            'AVI ' => Container::Avi,
            'WAVE' => Container::Wav,
            default => null,
        };
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $left = self::MOST_CHUNKS;
        $chunks = self::chunks($bytes, 12, $bytes->size(), self::DEEPEST, $left);
        $size = [null, null];
        $isPicture = 'WEBP' === $bytes->read(8, 4);
        if ($isPicture) {
            $size = self::picture($bytes, $chunks, $exif);
        } else {
            self::soundAndMovie($bytes, $chunks, $exif);
        }
        if ('AVI ' === $bytes->read(8, 4)) {
            $size = self::avi($bytes, $chunks);
        }
        $isWhole = 8 + TiffBlock::number($bytes->read(4, 4), 0, 4, true) <= $bytes->size()
            && (!$isPicture || null !== $size[0]);

        return $exif->facts(
            $size[0],
            $size[1],
            null,
            null,
            $isPicture,
            match (true) {
                $isWhole => [],
                $isPicture => [CaptureProblem::cutShort($name)],
                default => [CaptureProblem::recordingCutShort($name)],
            },
        )->playing($isPicture ? null : self::playing($bytes, $chunks));
    }

    /**
     * Length of a sound from its data and the bytes it takes a second (`fmt `), of a movie from its pictures and the
     * microseconds that each is shown (`avih`).
     *
     * @param list<array{string, int, int}> $chunks
     */
    private static function playing(FileBytes $bytes, array $chunks): ?Playing
    {
        $perSecond = 0;
        foreach ($chunks as [$name, $data, $length]) {
            if ('avih' === $name && $length >= 20) {
                $main = $bytes->read($data, 20);
                $pictures = TiffBlock::number($main, 16, 4, true);

                return Playing::of($pictures * TiffBlock::number($main, 0, 4, true), 1_000_000, $pictures);
            }
            if ('fmt ' === $name) {
                $perSecond = TiffBlock::number($bytes->read($data + 8, 4), 0, 4, true);
            } elseif ('data' === $name) {
                return Playing::of(min($length, $bytes->size() - $data), $perSecond);
            }
        }

        return null;
    }

    /**
     * @param list<array{string, int, int}> $chunks
     *
     * @return array{int|null, int|null} width and height of a movie
     */
    private static function avi(FileBytes $bytes, array $chunks): array
    {
        foreach ($chunks as [$name, $data, $length]) {
            if ('avih' === $name && $length >= 40) {
                $size = $bytes->read($data + 32, 8);

                return [TiffBlock::number($size, 0, 4, true), TiffBlock::number($size, 4, 4, true)];
            }
        }

        return [null, null];
    }

    /**
     * The chunks in order, those inside of lists among them.
     *
     * @param int $left chunks of the whole file that may still be looked at
     *
     * @return list<array{string, int, int}> name, where the payload begins, its length
     */
    private static function chunks(FileBytes $bytes, int $from, int $to, int $depth, int &$left): array
    {
        $chunks = [];
        for ($at = $from; $at + 8 <= min($to, $bytes->size()) && $left > 0; $at += 8 + $length + $length % 2) {
            --$left;
            $header = $bytes->read($at, 12);
            $length = TiffBlock::number($header, 4, 4, true);
            if (!str_starts_with($header, 'LIST')) {
                $chunks[] = [substr($header, 0, 4), $at + 8, $length];
            } elseif ('movi' !== substr($header, 8, 4) && $depth > 0) {
                $chunks = [
                    ...$chunks,
                    ...self::chunks($bytes, $at + 12, min($to, $at + 8 + $length), $depth - 1, $left),
                ];
            }
        }

        return $chunks;
    }

    /**
     * @param list<array{string, int, int}> $chunks
     *
     * @return array{int|null, int|null} width and height
     */
    private static function picture(FileBytes $bytes, array $chunks, ExifReading $exif): array
    {
        $size = [null, null];
        $xmp = null;
        foreach ($chunks as [$name, $data, $length]) {
            switch ($name) {
                case 'VP8X':
                    $canvas = $bytes->read($data + 4, 6)."\0";
                    $size = [
                        1 + (TiffBlock::number($canvas, 0, 4, true) & 0xFFFFFF),
                        1 + (TiffBlock::number($canvas, 3, 4, true) & 0xFFFFFF),
                    ];
                    break;
                case 'VP8 ':
                    $frame = $bytes->read($data, 10);
                    $size = null === $size[0]
                        ? [
                            TiffBlock::number($frame, 6, 2, true) & 0x3FFF,
                            TiffBlock::number($frame, 8, 2, true) & 0x3FFF,
                        ]
                        : $size;
                    break;
                case 'VP8L':
                    $bits = TiffBlock::number($bytes->read($data + 1, 4), 0, 4, true);
                    $size = null === $size[0] ? [1 + ($bits & 0x3FFF), 1 + ($bits >> 14 & 0x3FFF)] : $size;
                    break;
                case 'EXIF':
                    $skip = "Exif\0\0" === $bytes->read($data, 6) ? 6 : 0; // some writers keep JPEG's preamble
                    ExifBlock::read($bytes, $data + $skip, $length - $skip, $exif);
                    break;
                case 'XMP ':
                    $xmp = $bytes->read($data, min($length, XmpPacket::LONGEST));
                    break;
            }
        }
        if (null !== $xmp) {
            XmpFacts::add($xmp, $exif);
        }

        return $size;
    }

    /** @param list<array{string, int, int}> $chunks */
    private static function soundAndMovie(FileBytes $bytes, array $chunks, ExifReading $exif): void
    {
        $text = static fn (string $wanted): ?string => self::text($bytes, $chunks, $wanted);
        foreach ($chunks as [$name, $data, $length]) {
            // description 256, originator 32, reference 32, then date and time
            if ('bext' === $name && $length >= 338) {
                $exif->takeTime(
                    self::time($bytes->read($data + 320, 10), $bytes->read($data + 330, 8)),
                    TimeSource::SoundHeader,
                );
            } elseif ('IDIT' === $name) {
                $exif->takeTime(self::written($bytes->read($data, min($length, 64))), TimeSource::MovieHeader);
            }
        }
        $exif->takeTime(self::time($text('ICRD') ?? '', $text('etim') ?? ''), TimeSource::SoundHeader);
        $exif->model ??= $text('emdl');
        $exif->make ??= $text('ecor');
    }

    /** @param list<array{string, int, int}> $chunks */
    private static function text(FileBytes $bytes, array $chunks, string $wanted): ?string
    {
        foreach ($chunks as [$name, $data, $length]) {
            if ($name === $wanted) {
                $text = trim($bytes->read($data, min($length, 256)), "\0 \r\n");

                return '' === $text || !mb_check_encoding($text, 'UTF-8') ? null : $text;
            }
        }

        return null;
    }

    /** A date `2026-05-02`, with any mark between its parts, and a time `19:31:40`. */
    private static function time(string $date, string $clock): ?ShotTime
    {
        return 1 === preg_match('/^(\d{4}).(\d\d).(\d\d)/', $date, $day)
            && 1 === preg_match('/^(\d\d).(\d\d).(\d\d)(?:\.(\d+))?/', $clock, $part)
            ? ShotTime::fromExif("$day[1]:$day[2]:$day[3] $part[1]:$part[2]:$part[3]", $part[4] ?? '') : null;
    }

    /** As cameras write it: `Sat May  2 19:31:40 2026`, or a date and a time in figures. */
    private static function written(string $text): ?ShotTime
    {
        if (1 === preg_match('/^[a-z]{3} ([a-z]{3}) +(\d{1,2}) (\d\d:\d\d:\d\d) (\d{4})/i', $text, $part)) {
            $month = array_search(strtolower($part[1]), self::MONTHS, true);

            return false === $month
                ? null
                : ShotTime::fromExif(\sprintf('%s:%02d:%02d %s', $part[4], $month + 1, $part[2], $part[3]));
        }

        return self::time(substr($text, 0, 10), ltrim(substr($text, 10)));
    }
}
