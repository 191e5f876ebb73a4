<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/**
 * JPEG (ITU-T T.81, Annex B) with Exif (EXIF 2.32, 4.7), XMP and IIM segments, and the index of more pictures behind
 * the first.
 */
final class JpegReader implements CaptureReader
{
    private const MOST_SEGMENTS = 500;
    private const SOI = 0xD8;
    private const EOI = "\xFF\xD9";
    private const SOS = 0xDA;
    private const APP1 = 0xE1;
    private const APP2 = 0xE2;
    private const APP13 = 0xED;
    private const XMP = "http://ns.adobe.com/xap/1.0/\0"; // XMP specification part 3, 1.1.3
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
        return str_starts_with($head, "\xFF".\chr(self::SOI)."\xFF") ? Container::Jpeg : null;
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
    public static function segments(FileBytes $bytes, int $base, ?ExifReading $exif): JpegSegments
    {
        $thumbnail = $preview = $width = $height = $scan = $xmp = $iim = null;
        $isLossless = $sawExif = false;
        $at = $base + 2;
        for ($n = 0; $n < self::MOST_SEGMENTS; ++$n) {
            $header = $bytes->read($at, 33);
            if (\strlen($header) < 4 || "\xFF" !== $header[0]) {
                break;
            }
            $marker = \ord($header[1]);
            if (0xFF === $marker) { // fill byte (T.81, B.1.1.2)
                ++$at;
                continue;
            }
            $length = TiffBlock::number($header, 2, 2, false);
            if (self::SOS === $marker) {
                $scan = $at + 2 + $length;
                break;
            }
            if ($length < 2) {
                break;
            }
            if (\in_array($marker, self::FRAMES, true)) {
                $height = TiffBlock::number($header, 5, 2, false);
                $width = TiffBlock::number($header, 7, 2, false);
                $isLossless = \in_array($marker, self::LOSSLESS, true);
            } elseif (null === $exif) {
                // only its shape is asked for
            } elseif (self::APP1 === $marker && "Exif\0\0" === substr($header, 4, 6) && !$sawExif) {
                $sawExif = true;
                $thumbnail = ExifBlock::read($bytes, $at + 10, $length - 8, $exif);
            } elseif (self::APP1 === $marker && self::XMP === substr($header, 4, 29)) {
                $xmp ??= $bytes->read($at + 33, $length - 31);
            } elseif (self::APP2 === $marker && MultiPicture::SEGMENT === substr($header, 4, 4)) {
                $preview ??= MultiPicture::preview($bytes, $at + 8, $bytes->size() - $at - 8);
            } elseif (self::APP13 === $marker && IimFacts::SEGMENT === substr($header, 4, 14)) {
                $iim ??= $bytes->read($at + 18, $length - 16);
            }
            $at += 2 + $length;
        }
        if (null !== $xmp && null !== $exif) {
            XmpFacts::add($xmp, $exif);
        }
        if (null !== $iim && null !== $exif) {
            IimFacts::add($iim, $exif);
        }

        return new JpegSegments($width, $height, $thumbnail, $preview, $scan, $isLossless);
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
