<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\PngChunks;
use Velvet\Core\Bytes\TiffBlock;

/** PNG (ISO 15948) with an `eXIf` chunk, Exif in a profile that is kept as text, or XMP in an `iTXt` chunk. */
final class PngReader implements CaptureReader
{
    private const EXIF = 'eXIf';
    private const PREAMBLE = "Exif\0\0"; // as in JPEG

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
        $profile = null === $exif->capturedAt ? $chunks->profile('exif', 'APP1') : null;
        if (null !== $profile) {
            $skip = str_starts_with($profile, self::PREAMBLE) ? \strlen(self::PREAMBLE) : 0;
            ExifBlock::read(FileBytes::ofContent($profile), $skip, \strlen($profile) - $skip, $exif);
        }
        $xmp = $chunks->xmp();
        if (null !== $xmp) {
            XmpFacts::add($xmp, $exif);
        }

        $problems = null === $chunks->fault ? [] : [CaptureProblem::cutShort($name)];

        return $exif->facts($width, $height, null, null, true, $problems);
    }
}
