<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\TiffEdit;
use Velvet\Core\Bytes\TiffType;
use Velvet\Core\Bytes\XmpPacket;

/**
 * TIFF (TIFF 6.0) and DNG (DNG 1.7.1): XMP in field 700, IIM in 33723, Exif's texts in the first directory. Nothing
 * that is there is moved; see {@see TiffEdit}.
 */
final class TiffFile implements PictureFile
{
    private const XMP = 700;
    private const IIM = 33723;

    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        $edit = self::edit($bytes);
        $packet = $edit->value(self::XMP);
        $xmp = null === $packet ? XmpPacket::fresh() : XmpPacket::read($packet);
        Packets::intoXmp($xmp, $metadata, $history);
        $iim = IimBlock::read(rtrim((string) $edit->value(self::IIM), "\0"));
        $notes = Packets::intoIim($iim, $metadata);
        Packets::intoExif($edit, $metadata);
        $edit->set(self::XMP, TiffType::Byte, $xmp->bytes(\strlen((string) $packet)));
        $edit->set(self::IIM, TiffType::Long, self::filled($iim->bytes()));
        [$patches, $tail] = $edit->changes();

        return new Splice([...self::patched($bytes, $patches), $tail], $notes);
    }

    public function read(FileBytes $bytes): Metadata
    {
        $edit = self::edit($bytes);
        $packet = $edit->value(self::XMP);

        return null === $packet
            ? Packets::fromOlder(IimBlock::read(rtrim((string) $edit->value(self::IIM), "\0")), $edit)
            : Packets::fromXmp(XmpPacket::read($packet));
    }

    public function picture(FileBytes $bytes): array
    {
        return array_map(
            static fn (array $picture): ByteRange => Splice::range($bytes, $picture[0], $picture[1]),
            self::edit($bytes)->pictures(),
        );
    }

    /** The field is of type LONG (ISO 16684-3, 1.1.8, from memory): whole groups of 4 bytes. */
    private static function filled(string $bytes): string
    {
        return str_pad($bytes, 4 * intdiv(\strlen($bytes) + 3, 4), "\0");
    }

    private static function edit(FileBytes $bytes): TiffEdit
    {
        return TiffEdit::of($bytes, 0, $bytes->size());
    }

    /**
     * @param array<int, string> $patches in order
     *
     * @return list<string|ByteRange>
     */
    private static function patched(FileBytes $bytes, array $patches): array
    {
        $pieces = [];
        $at = 0;
        foreach ($patches as $offset => $patch) {
            if ($offset > $at) {
                $pieces[] = Splice::range($bytes, $at, $offset - $at);
            }
            $pieces[] = $patch;
            $at = $offset + \strlen($patch);
        }
        $pieces[] = Splice::range($bytes, $at, $bytes->size() - $at);

        return $pieces;
    }
}
