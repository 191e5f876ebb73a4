<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\FileBytes;

/** PNG (ISO/IEC 15948): the packet stands in an iTXt chunk of its own (ISO 16684-3, 1.1.5), right behind the header. */
final class PngFile implements PictureFile
{
    private const SIGNATURE = "\x89PNG\r\n\x1A\n";
    private const HEADER = 'IHDR';
    private const TEXT = 'iTXt';
    /** Keyword, no compression, no language, no translated keyword. */
    private const KEYWORD = "XML:com.adobe.xmp\0\0\0\0\0";

    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        $packet = $this->packet($bytes);
        $xmp = null === $packet ? XmpPacket::fresh() : XmpPacket::read($packet);
        Packets::intoXmp($xmp, $metadata, $history);
        $data = self::TEXT.self::KEYWORD.$xmp->bytes();
        $pieces = [self::SIGNATURE];
        foreach (self::chunks($bytes) as [$type, $offset, $length]) {
            if (!$this->isOurs($bytes, $type, $offset)) {
                $pieces[] = Splice::range($bytes, $offset, $length);
            }
            if (self::HEADER === $type) {
                $pieces[] = pack('N', \strlen($data) - 4).$data.pack('N', crc32($data));
            }
        }

        return new Splice($pieces);
    }

    public function read(FileBytes $bytes): Metadata
    {
        $packet = $this->packet($bytes);

        return null === $packet ? new Metadata() : Packets::fromXmp(XmpPacket::read($packet));
    }

    public function picture(FileBytes $bytes): array
    {
        $ranges = [];
        foreach (self::chunks($bytes) as [$type, $offset, $length]) {
            if (!$this->isOurs($bytes, $type, $offset)) {
                $ranges[] = Splice::range($bytes, $offset, $length);
            }
        }

        return $ranges;
    }

    private function packet(FileBytes $bytes): ?string
    {
        foreach (self::chunks($bytes) as [$type, $offset, $length]) {
            if ($this->isOurs($bytes, $type, $offset)) {
                return substr($bytes->read($offset + 8, $length - 12), \strlen(self::KEYWORD));
            }
        }

        return null;
    }

    private function isOurs(FileBytes $bytes, string $type, int $offset): bool
    {
        return self::TEXT === $type && self::KEYWORD === $bytes->read($offset + 8, \strlen(self::KEYWORD));
    }

    /**
     * @return list<array{string, int, int}> type, offset and length of each whole chunk; what lies behind the last one
     *     is one more, without a type
     *
     * @throws MetadataRefused
     */
    private static function chunks(FileBytes $bytes): array
    {
        if (self::SIGNATURE !== $bytes->read(0, 8)) {
            throw MetadataRefused::structure('it does not begin as a PNG does');
        }
        $chunks = [];
        $at = 8;
        while ($at < $bytes->size()) {
            $head = $bytes->read($at, 8);
            $length = unpack('N', str_pad($head, 4, "\0"))[1] ?? 0;
            if (\strlen($head) < 8 || !\is_int($length) || $at + 12 + $length > $bytes->size()) {
                throw MetadataRefused::structure('its chunks break off');
            }
            $chunks[] = [substr($head, 4), $at, $length + 12];
            $at += $length + 12;
            if ('IEND' === substr($head, 4) && $at < $bytes->size()) {
                $chunks[] = ['', $at, $bytes->size() - $at];
                break;
            }
        }

        return $chunks;
    }
}
