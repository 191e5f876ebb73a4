<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\XmpPacket;

/** An XMP sidecar (ISO 16684-1): a packet in a file of its own, as UTF-8. */
final class XmpReader implements CaptureReader
{
    public function recognises(string $head): ?Container
    {
        return 1 === preg_match('~^(\xEF\xBB\xBF)?\s*<(\?xpacket|x:xmpmeta|\?xml|rdf:RDF)~', $head)
            ? Container::Xmp
            : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        XmpFacts::add($bytes->read(0, min($bytes->size(), XmpPacket::LONGEST)), $exif);
        $isWhole = str_contains($bytes->read(max(0, $bytes->size() - 4096), 4096), '</');

        return $exif->facts(null, null, problems: $isWhole ? [] : [CaptureProblem::cutShort($name)]);
    }
}
