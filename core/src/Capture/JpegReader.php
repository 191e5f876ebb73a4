<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** JPEG (ITU-T T.81, Annex B) with an Exif segment (EXIF 2.32, 4.7). */
final class JpegReader implements CaptureReader
{
    private const MOST_SEGMENTS = 500;
    private const SOI = 0xD8;
    private const EOI = "\xFF\xD9";
    private const SOS = 0xDA;
    private const APP1 = 0xE1;
    /** Start-of-frame markers carry the picture's size: SOF0 to SOF15 without DHT, JPG and DAC (T.81, table B.1). */
    private const FRAMES = [0xC0, 0xC1, 0xC2, 0xC3, 0xC5, 0xC6, 0xC7, 0xC9, 0xCA, 0xCB, 0xCD, 0xCE, 0xCF];
    /** A scan's end is looked for in so many bytes at the file's end: some cameras pad behind it (common practice). */
    private const TAIL = 4096;

    public function recognises(string $head): bool
    {
        return str_starts_with($head, "\xFF".\chr(self::SOI)."\xFF");
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $thumbnail = null;
        $width = $height = $scan = null;
        $at = 2;
        for ($n = 0; $n < self::MOST_SEGMENTS; ++$n) {
            $header = $bytes->read($at, 10);
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
            } elseif (self::APP1 === $marker && "Exif\0\0" === substr($header, 4, 6)) {
                $thumbnail ??= ExifBlock::read($bytes, $at + 10, $length - 8, $exif);
            }
            $at += 2 + $length;
        }
        $isWhole = null !== $scan && $scan < $bytes->size() && $this->endsWell($bytes, $scan);

        return $exif->facts($width, $height, $thumbnail, null, true, $isWhole ? [] : [CaptureProblem::cutShort($name)]);
    }

    private function endsWell(FileBytes $bytes, int $scan): bool
    {
        $from = max($scan, $bytes->size() - self::TAIL);

        return str_contains($bytes->read($from, $bytes->size() - $from), self::EOI);
    }
}
