<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\Box;
use Velvet\Core\Bytes\FileBytes;

/**
 * Movies in MP4 and QuickTime files: when they were made, how large and how long they are. The movie header (`mvhd`,
 * ISO 14496-12, 8.2.2) counts seconds since 1904 in UTC; a date in words (QuickTime File Format) is the camera's
 * own wall clock and goes before it. Sizes are the track header's (`tkhd`, 8.3.2), the rate is that of the
 * samples (`stsz`, 8.7.3) in the media's time (`mdhd`, 8.4.2).
 */
final readonly class MovieReader implements CaptureReader
{
    private const FIRST_BOXES = ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot'];
    private const KEYS = [
        'mdtacom.apple.quicktime.creationdate' => 'day',
        'mdtacom.apple.quicktime.make' => 'make',
        'mdtacom.apple.quicktime.model' => 'model',
    ];
    private const MOST_KEYS = 200;
    private const LONGEST = 128; // bytes of a text
    private const SECONDS_FROM_1904_TO_1970 = 2_082_844_800;

    /** @param \DateTimeZone $zone in which the header's instant is told as a wall clock */
    public function __construct(private \DateTimeZone $zone)
    {
    }

    public function recognises(string $head): ?Container
    {
        return \in_array(substr($head, 4, 4), self::FIRST_BOXES, true)
            && null === (new IsoMediaReader())->recognises($head)
            ? Container::Movie
            : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $movie = null;
        $isWhole = true;
        foreach (Box::within($bytes, 0, $bytes->size()) as $box) {
            $isWhole = $isWhole && $box->isWhole;
            $movie ??= 'moov' === $box->type ? $box : null;
        }
        $header = $movie?->child('mvhd');
        $words = self::words($movie);
        $exif->make ??= '' === $words['make'] ? null : $words['make'];
        $exif->model ??= '' === $words['model'] ? null : $words['model'];
        $exif->takeTime(self::written($words['day']), TimeSource::MovieHeader);
        if (null !== $header) {
            $wide = 1 === $header->number(0, 1); // version 1 has times of 64 bits
            $since1904 = $wide ? ($header->number(4, 4) & 0xFF) << 32 | $header->number(8, 4) : $header->number(4, 4);
            $exif->takeTime(
                $since1904 < self::SECONDS_FROM_1904_TO_1970 // a clock that was never set: there were no such cameras
                    ? null
                    : ShotTime::fromInstant($since1904 - self::SECONDS_FROM_1904_TO_1970, $this->zone),
                TimeSource::MovieHeader,
            );
        }

        $video = null === $movie ? null : self::video($movie);
        [$width, $height] = null === $video ? [null, null] : self::size($video);

        return $exif->facts(
            $width,
            $height,
            problems: match (true) {
                null === $movie => [CaptureProblem::withoutIndex($name)],
                $isWhole => [],
                default => [CaptureProblem::recordingCutShort($name)],
            },
        )->playing(
            null === $video ? self::length($header) : self::rate($video->child('mdia')) ?? self::length($header),
        );
    }

    /** The first track of pictures. */
    private static function video(Box $movie): ?Box
    {
        foreach ($movie->children() as $track) {
            if ('trak' === $track->type && 'vide' === $track->child('mdia')?->child('hdlr')?->read(8, 4)) {
                return $track;
            }
        }

        return null;
    }

    /** @return array{int|null, int|null} in pixels: 16.16 at the end of the track header */
    private static function size(Box $video): array
    {
        $header = $video->child('tkhd');
        $at = 1 === $header?->number(0, 1) ? 88 : 76;
        [$width, $height] = [$header?->number($at, 2) ?? 0, $header?->number($at + 4, 2) ?? 0];

        return $width > 0 && $height > 0 ? [$width, $height] : [null, null];
    }

    private static function rate(?Box $media): ?Playing
    {
        $samples = $media?->child('minf')?->child('stbl')?->child('stsz')?->number(8, 4) ?? 0;

        return self::length($media?->child('mdhd'), $samples);
    }

    /** @param Box|null $header `mvhd` or `mdhd`: both have their times in the same places */
    private static function length(?Box $header, int $pictures = 0): ?Playing
    {
        return match (true) {
            null === $header => null,
            1 === $header->number(0, 1) => Playing::of(
                $header->number(24, 4) * 2 ** 32 + $header->number(28, 4),
                $header->number(20, 4),
                $pictures,
            ),
            default => Playing::of($header->number(16, 4), $header->number(12, 4), $pictures),
        };
    }

    /** As `2026-05-02T19:31:40+02:00`, with or without the colon of the zone. */
    private static function written(string $text): ?ShotTime
    {
        return 1 === preg_match('/^(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d)(?:\.(\d+))?([+\-]\d\d):?(\d\d)?/', $text, $part)
            ? ShotTime::fromExif($part[1], $part[2], $part[3].':'.($part[4] ?? '00')) : null;
    }

    /**
     * What the camera says in words: texts of the user data (`udta`; a length, a language, the text), then the
     * values (`ilst`) of the metadata's keys (`keys`: QuickTime File Format, “Metadata”).
     *
     * @return array{day: string, make: string, model: string} empty where it says nothing
     */
    private static function words(?Box $movie): array
    {
        $words = ['day' => '', 'make' => '', 'model' => ''];
        $user = $movie?->child('udta');
        foreach (["\xA9day" => 'day', "\xA9mak" => 'make', "\xA9mod" => 'model'] as $type => $word) {
            $text = $user?->child($type);
            $words[$word] = $text?->read(4, min(self::LONGEST, $text->number(0, 2))) ?? '';
        }
        $meta = $movie?->child('meta');
        // in MP4 a version and flags go before its boxes, in QuickTime files nothing does
        $keys = $meta?->child('keys') ?? $meta?->child('keys', 4);
        $values = ($meta?->child('ilst') ?? $meta?->child('ilst', 4))?->children() ?? [];
        for ($at = 8, $n = 1; null !== $keys && $at + 8 <= $keys->length && $n <= self::MOST_KEYS; ++$n) {
            $length = $keys->number($at, 4);
            $word = self::KEYS[$keys->read($at + 4, min(self::LONGEST, max(0, $length - 4)))] ?? null;
            foreach (null === $word ? [] : $values as $value) {
                $data = $value->type === pack('N', $n) ? $value->child('data') : null;
                if (null !== $data) { // a kind and a language go before the text
                    $words[$word] = $data->read(8, min(self::LONGEST, max(0, $data->length - 8)));
                }
            }
            $at += max(8, $length);
        }

        return array_map(
            static fn (string $text): string => mb_check_encoding($text, 'UTF-8') ? trim($text, "\0 ") : '',
            $words,
        );
    }
}
