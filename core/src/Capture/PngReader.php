<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;

/** PNG (ISO 15948) with an `eXIf` chunk, or XMP in an `iTXt` chunk. */
final class PngReader implements CaptureReader
{
    private const SIGNATURE = "\x89PNG\r\n\x1A\n";
    private const MOST_CHUNKS = 5000;
    private const XMP = "XML:com.adobe.xmp\0";

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, self::SIGNATURE) ? Container::Png : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $width = $height = null;
        $isWhole = false;
        for ($at = 8, $n = 0; $n < self::MOST_CHUNKS; ++$n) {
            $header = $bytes->read($at, 8);
            if (8 !== \strlen($header)) {
                break;
            }
            $length = TiffBlock::number($header, 0, 4, false);
            switch (substr($header, 4)) {
                case 'IHDR':
                    $size = $bytes->read($at + 8, 8);
                    [$width, $height] = [TiffBlock::number($size, 0, 4, false), TiffBlock::number($size, 4, 4, false)];
                    break;
                case 'eXIf':
                    ExifBlock::read($bytes, $at + 8, $length, $exif);
                    break;
                case 'iTXt':
                    $text = $bytes->read($at + 8, min($length, 256 * 1024));
                    if (str_starts_with($text, self::XMP)) {
                        XmpFacts::add($text, $exif);
                    }
                    break;
                case 'IEND':
                    $isWhole = $at + 12 <= $bytes->size();
                    break 2;
            }
            $at += 12 + $length;
        }

        return $exif->facts($width, $height, null, null, true, $isWhole ? [] : [CaptureProblem::cutShort($name)]);
    }
}
