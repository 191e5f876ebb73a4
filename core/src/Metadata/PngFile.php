<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\PngChunk;
use Velvet\Core\Bytes\PngChunks;
use Velvet\Core\Bytes\XmpPacket;

/** PNG (ISO/IEC 15948): the packet stands in an iTXt chunk of its own (ISO 16684-3, 1.1.5), right behind the header. */
final class PngFile implements PictureFile
{
    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        $chunks = PngChunks::of($bytes);
        $packet = $chunks->xmp();
        $xmp = null === $packet ? XmpPacket::fresh() : XmpPacket::read($packet);
        Packets::intoXmp($xmp, $metadata, $history);
        $pieces = [PngChunks::SIGNATURE];
        foreach ($chunks->whole() as $chunk) {
            if (!$chunks->holdsXmp($chunk)) {
                $pieces[] = Splice::range($bytes, $chunk->start, $chunk->end() - $chunk->start);
            }
            if (PngChunks::HEADER === $chunk->type) {
                $pieces[] = PngChunk::bytes(PngChunks::TEXT, PngChunks::XMP.$xmp->bytes());
            }
        }

        $notes = null === $metadata->text(Field::Orientation)
            ? []
            : ['That it was rotated is said in its XMP only, where not every program looks.'];

        return new Splice([...$pieces, ...self::behind($bytes, $chunks)], $notes);
    }

    public function read(FileBytes $bytes): Metadata
    {
        $packet = PngChunks::of($bytes)->xmp();

        return null === $packet ? new Metadata() : Packets::fromXmp(XmpPacket::read($packet));
    }

    public function picture(FileBytes $bytes): array
    {
        $chunks = PngChunks::of($bytes);
        $ranges = [];
        foreach ($chunks->whole() as $chunk) {
            if (!$chunks->holdsXmp($chunk)) {
                $ranges[] = Splice::range($bytes, $chunk->start, $chunk->end() - $chunk->start);
            }
        }

        return [...$ranges, ...self::behind($bytes, $chunks)];
    }

    /** @return list<ByteRange> what lies behind the last chunk */
    private static function behind(FileBytes $bytes, PngChunks $chunks): array
    {
        $last = $chunks->whole()[\count($chunks->chunks) - 1] ?? null;
        $end = $last?->end() ?? $bytes->size();

        return $end < $bytes->size() ? [Splice::range($bytes, $end, $bytes->size() - $end)] : [];
    }
}
