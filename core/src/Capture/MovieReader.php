<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\Box;
use Velvet\Core\Bytes\FileBytes;

/**
 * Movies in MP4 and QuickTime files: when they were made, how large and how long they are. The movie header (`mvhd`,
 * ISO 14496-12, 8.2.2) counts seconds since 1904 in UTC; a date in `udta` (`©day`, QuickTime File Format) is the
 * camera's own wall clock and goes before it. Sizes are the track header's (`tkhd`, 8.3.2), the rate is that of the
 * samples (`stsz`, 8.7.3) in the media's time (`mdhd`, 8.4.2).
 */
final readonly class MovieReader implements CaptureReader
{
    private const FIRST_BOXES = ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot'];
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
        $exif->takeTime(self::written($movie), TimeSource::MovieHeader);
        if (null !== $header) {
            $wide = 1 === $header->number(0, 1); // version 1 has times of 64 bits
            $since1904 = $wide ? ($header->number(4, 4) & 0xFF) << 32 | $header->number(8, 4) : $header->number(4, 4);
            $exif->takeTime(
                0 === $since1904
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
            problems: $isWhole && null !== $movie ? [] : [CaptureProblem::cutShort($name)],
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

    private static function written(?Box $movie): ?ShotTime
    {
        $day = $movie?->child('udta')?->child("\xA9day");
        $text = $day?->read(4, min(64, $day->number(0, 2))) ?? '';

        return 1 === preg_match('/^(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d)(?:\.(\d+))?([+\-]\d\d):?(\d\d)?/', $text, $part)
            ? ShotTime::fromExif($part[1], $part[2], $part[3].':'.($part[4] ?? '00')) : null;
    }
}
