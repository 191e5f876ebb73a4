<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\XmpPacket;

/** A sidecar: a packet in a file of its own (ISO 16684-3, 2). It has no picture. */
final class SidecarFile implements PictureFile
{
    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        $packet = XmpPacket::read($bytes->read(0, $bytes->size()));
        Packets::intoXmp($packet, $metadata, $history);

        return new Splice([$packet->bytes()]);
    }

    public static function fresh(Metadata $metadata, History $history): string
    {
        $packet = XmpPacket::fresh();
        Packets::intoXmp($packet, $metadata, $history);

        return $packet->bytes();
    }

    public function read(FileBytes $bytes): Metadata
    {
        return Packets::fromXmp(XmpPacket::read($bytes->read(0, $bytes->size())));
    }

    public function picture(FileBytes $bytes): array
    {
        return [];
    }
}
