<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\StructureBroken;
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

    /** @param string|null $own the packet that stands in the picture itself: for readers a sidecar takes its place */
    public static function fresh(Metadata $metadata, History $history, ?string $own = null): string
    {
        try {
            $packet = null === $own ? XmpPacket::fresh() : XmpPacket::read($own);
        } catch (StructureBroken) {
            $packet = XmpPacket::fresh(); // nobody can read it there either
        }
        Packets::intoXmp($packet, $metadata, $history);

        return $packet->bytes();
    }

    public function read(FileBytes $bytes): Metadata
    {
        return self::said($bytes->read(0, $bytes->size()));
    }

    /** @throws StructureBroken */
    public static function said(string $packet): Metadata
    {
        return Packets::fromXmp(XmpPacket::read($packet));
    }

    public function picture(FileBytes $bytes): array
    {
        return [];
    }
}
