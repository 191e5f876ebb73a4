<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\JpegPayload;
use Velvet\Core\Bytes\JpegSegments;
use Velvet\Core\Bytes\TiffBlock;

/**
 * JPEG (ITU-T T.81, Annex B) with Exif (EXIF 2.32, 4.7), XMP and IIM segments, and the index of more pictures behind
 * the first.
 */
final class JpegReader implements CaptureReader
{
    private const EOI = "\xFF\xD9";
    /** Start-of-frame markers carry the picture's size: SOF0 to SOF15 without DHT, JPG and DAC (T.81, table B.1). */
    private const FRAMES = [0xC0, 0xC1, 0xC2, 0xC3, 0xC5, 0xC6, 0xC7, 0xC9, 0xCA, 0xCB, 0xCD, 0xCE, 0xCF];
    private const LOSSLESS = [0xC3, 0xC7, 0xCB, 0xCF];
    /**
     * A picture's end is looked for in so many bytes at the file's end first; where something long follows behind it,
     * from its scan on.
     */
    private const TAIL = 4096;
    private const CHUNK = 256 * 1024;

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, JpegSegments::START."\xFF") ? Container::Jpeg : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $found = self::segments($bytes, 0, $exif);
        $isWhole = null !== $found->scan && $found->scan < $bytes->size() && $this->endsWell($bytes, $found->scan);

        return $exif->facts(
            $found->width,
            $found->height,
            $found->thumbnail,
            $found->preview,
            true,
            $isWhole ? [] : [CaptureProblem::cutShort($name)],
        );
    }

    /**
     * Reads the segments of a JPEG that begins at $base, up to its first scan.
     *
     * @param ExifReading|null $exif takes the facts; null where they are not asked for
     */
    public static function segments(FileBytes $bytes, int $base, ?ExifReading $exif): JpegShape
    {
        $thumbnail = $preview = $width = $height = $xmp = $iim = null;
        $isLossless = $sawExif = false;
        $segments = JpegSegments::of($bytes, $base);
        foreach ($segments->segments as $segment) {
            if (\in_array($segment->marker, self::FRAMES, true)) {
                $size = $bytes->read($segment->payload() + 1, 4);
                $height = TiffBlock::number($size, 0, 2, false);
                $width = TiffBlock::number($size, 2, 2, false);
                $isLossless = \in_array($segment->marker, self::LOSSLESS, true);
            }
            if (null === $exif) {
                continue; // only its shape is asked for
            }
            [$at, $length] = [$segment->content(), $segment->contentLength()];
            if (JpegPayload::Exif === $segment->holds && !$sawExif) {
                $sawExif = true;
                $thumbnail = ExifBlock::read($bytes, $at, $length, $exif);
            } elseif (JpegPayload::Xmp === $segment->holds) {
                $xmp ??= $bytes->read($at, $length);
            } elseif (JpegPayload::MultiPicture === $segment->holds) {
                $others = MultiPicture::of($bytes, $at, $bytes->size() - $at);
                $preview ??= $others->preview;
                $exif->shots ??= $others->shots;
            } elseif (JpegPayload::Resources === $segment->holds) {
                $iim .= $bytes->read($at, $length);
            }
        }
        if (null !== $xmp && null !== $exif) {
            XmpFacts::add($xmp, $exif);
        }
        if (null !== $iim && null !== $exif) {
            IimFacts::add($iim, $exif);
        }

        return new JpegShape($width, $height, $thumbnail, $preview, $segments->data, $isLossless);
    }

    private function endsWell(FileBytes $bytes, int $scan): bool
    {
        $from = max($scan, $bytes->size() - self::TAIL);
        if (str_contains($bytes->read($from, $bytes->size() - $from), self::EOI)) {
            return true;
        }
        // a movie that a phone lays behind its picture: within coded data no EOI can stand (T.81, B.1.1.5)
        for ($at = $scan; $at < $from; $at += self::CHUNK) {
            if (str_contains($bytes->read($at, min(self::CHUNK, $from - $at) + 1), self::EOI)) {
                return true;
            }
        }

        return false;
    }
}
