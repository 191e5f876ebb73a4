<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\PngChunks;
use Velvet\Core\Bytes\TiffBlock;

/** PNG (ISO 15948) with an `eXIf` chunk, or XMP in an `iTXt` chunk. */
final class PngReader implements CaptureReader
{
    private const EXIF = 'eXIf';

    public function recognises(string $head): ?Container
    {
        return str_starts_with($head, PngChunks::SIGNATURE) ? Container::Png : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $width = $height = null;
        $chunks = PngChunks::of($bytes);
        foreach ($chunks->chunks as $chunk) {
            if (PngChunks::HEADER === $chunk->type) {
                $size = $bytes->read($chunk->data(), 8);
                [$width, $height] = [TiffBlock::number($size, 0, 4, false), TiffBlock::number($size, 4, 4, false)];
            } elseif (self::EXIF === $chunk->type) {
                ExifBlock::read($bytes, $chunk->data(), $chunk->length, $exif);
            }
        }
        $xmp = $chunks->xmp();
        if (null !== $xmp) {
            XmpFacts::add($xmp, $exif);
        }

        $problems = null === $chunks->fault ? [] : [CaptureProblem::cutShort($name)];

        return $exif->facts($width, $height, null, null, true, $problems);
    }
}
