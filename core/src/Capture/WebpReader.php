<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** WebP (RFC 9649): a RIFF file whose chunks hold the picture, Exif and XMP. Little-endian. */
final class WebpReader implements CaptureReader
{
    private const MOST_CHUNKS = 1000;

    public function recognises(string $head): bool
    {
        return 'RIFF' === substr($head, 0, 4) && 'WEBP' === substr($head, 8, 4);
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $size = [null, null];
        $xmp = null;
        for ($at = 12, $n = 0; $n < self::MOST_CHUNKS && $at + 8 <= $bytes->size(); ++$n) {
            $header = $bytes->read($at, 8);
            $length = TiffBlock::number($header, 4, 4, true);
            $data = $at + 8;
            switch (substr($header, 0, 4)) {
                case 'VP8X':
                    $canvas = $bytes->read($data + 4, 6)."\0";
                    $size = [1 + (TiffBlock::number($canvas, 0, 4, true) & 0xFFFFFF), 1 + (TiffBlock::number($canvas, 3, 4, true) & 0xFFFFFF)];
                    break;
                case 'VP8 ':
                    $frame = $bytes->read($data, 10);
                    $size = null === $size[0] ? [TiffBlock::number($frame, 6, 2, true) & 0x3FFF, TiffBlock::number($frame, 8, 2, true) & 0x3FFF] : $size;
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
                    $xmp = $bytes->read($data, $length);
                    break;
            }
            $at = $data + $length + $length % 2;
        }
        if (null !== $xmp) {
            XmpFacts::add($xmp, $exif);
        }
        $isWhole = 8 + TiffBlock::number($bytes->read(4, 4), 0, 4, true) <= $bytes->size() && null !== $size[0];

        return $exif->facts($size[0], $size[1], null, null, true, $isWhole ? [] : [CaptureProblem::cutShort($name)]);
    }
}
