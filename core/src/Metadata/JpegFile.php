<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;

/**
 * JPEG (ITU-T T.81, annex B). Exif and XMP stand in APP1, IIM in APP13; they come first, behind JFIF's own segments.
 * All others stay in their order, and everything from the first scan on is copied as it is, with what lies behind the
 * picture. The index of a multi-picture file (CIPA DC-007) counts from itself, so it is set right where something
 * behind it grew.
 */
final class JpegFile implements PictureFile
{
    private const START = "\xFF\xD8";
    private const SCAN = 0xDA;
    private const APP0 = 0xE0;
    private const APP1 = 0xE1;
    private const APP2 = 0xE2;
    private const APP13 = 0xED;
    private const APP15 = 0xEF;
    private const COMMENT = 0xFE;
    private const EXIF = "Exif\0\0";
    private const XMP = "http://ns.adobe.com/xap/1.0/\0";
    /** Packets of more than 65,502 bytes: what does not fit the first segment (ISO 16684-3, 1.1.3.1). */
    private const EXTENDED = "http://ns.adobe.com/xmp/extension/\0";
    private const RESOURCES = "Photoshop 3.0\0";
    private const PICTURES = "MPF\0";
    private const ENTRY_TAG = 0xB002;
    /** Bytes of a segment's payload: its length is counted in 2 bytes, themselves included. */
    private const MOST = 65_533;

    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        $segments = self::segments($bytes);
        $scan = array_pop($segments);
        [$own, $notes] = $this->written($bytes, $segments, $metadata, $history);
        $pieces = [self::START];
        $isAhead = true;
        foreach ($segments as [$marker, $offset, $length]) {
            if ($isAhead && self::APP0 !== $marker) {
                $isAhead = false; // JFIF's own segments stay first; Exif wants to follow at once (Exif 2.32, 4.5.4)
                array_push($pieces, ...$own);
            }
            if (!\in_array(self::kindOf($bytes, $marker, $offset, $length), ['exif', 'xmp', 'resources'], true)) {
                $pieces[] = Splice::range($bytes, $offset - 4, $length + 4);
            }
        }
        if ($isAhead) {
            array_push($pieces, ...$own);
        }
        $pieces[] = Splice::range($bytes, $scan[1], $bytes->size() - $scan[1]);

        return new Splice($this->withIndex($bytes, $segments, $pieces), $notes);
    }

    public function read(FileBytes $bytes): Metadata
    {
        $segments = self::segments($bytes);
        $xmp = $this->packet($bytes, $segments);
        if (null !== $xmp) {
            return Packets::fromXmp(XmpPacket::read($xmp));
        }
        $exif = self::payload($bytes, $segments, 'exif', self::EXIF);

        return Packets::fromOlder(
            IimBlock::read(
                ImageResources::read(self::payload($bytes, $segments, 'resources', self::RESOURCES) ?? '')->iim(),
            ),
            null === $exif
                ? null
                : TiffEdit::of(static fn (int $at, int $length): string => substr($exif, $at, $length), \strlen($exif)),
        );
    }

    public function picture(FileBytes $bytes): array
    {
        $ranges = [];
        $segments = self::segments($bytes);
        $scan = array_pop($segments);
        foreach ($segments as [$marker, $offset, $length]) {
            if (($marker < self::APP0 || $marker > self::APP15) && self::COMMENT !== $marker) {
                $ranges[] = Splice::range($bytes, $offset - 4, $length + 4);
            }
        }
        $ranges[] = Splice::range($bytes, $scan[1], $bytes->size() - $scan[1]);

        return $ranges;
    }

    /**
     * @param list<array{int, int, int}> $segments
     *
     * @return array{list<string>, list<string>} the segments of Exif, XMP and resources; notes
     */
    private function written(FileBytes $bytes, array $segments, Metadata $metadata, History $history): array
    {
        $packet = $this->packet($bytes, $segments);
        $xmp = null === $packet ? XmpPacket::fresh() : XmpPacket::read($packet);
        Packets::intoXmp($xmp, $metadata, $history);
        $resources = ImageResources::read(self::payload($bytes, $segments, 'resources', self::RESOURCES) ?? '');
        $iim = IimBlock::read($resources->iim());
        $notes = Packets::intoIim($iim, $metadata);
        $resources->setIim($iim->bytes());
        $block = self::payload($bytes, $segments, 'exif', self::EXIF);
        $exif = [];
        if (null !== $block) { // one is not made for this alone: it would lack what Exif demands
            $edit = TiffEdit::of(
                static fn (int $at, int $length): string => substr($block, $at, $length),
                \strlen($block),
            );
            Packets::intoExif($edit, $metadata);
            $exif = [[self::APP1, self::EXIF.$edit->bytes()]];
        }
        if (\strlen($exif[0][1] ?? '') > self::MOST) {
            $exif = [[self::APP1, self::EXIF.$block]];
            $notes[] = 'There is no room in its Exif segment: creator, copyright and description are in XMP and IIM only.';
        }

        $own = [...$exif, ...self::packetSegments($xmp), ...self::resourceSegments($resources->bytes())];

        return [
            array_map(
                static fn (array $segment): string => "\xFF".\chr($segment[0]).pack('n', \strlen($segment[1]) + 2).$segment[1],
                $own,
            ),
            $notes,
        ];
    }

    /**
     * A packet that is too long for one segment goes into the extension as a whole, and the first segment says no more
     * than which extension that is, by its MD5 (ISO 16684-3, 1.1.3.1).
     *
     * @return list<array{int, string}>
     */
    private static function packetSegments(XmpPacket $packet): array
    {
        $bytes = $packet->bytes(0);
        if (\strlen(self::XMP.$bytes) > self::MOST) {
            $bytes = $packet->bytes();
        }
        if (\strlen(self::XMP.$bytes) <= self::MOST) {
            return [[self::APP1, self::XMP.$bytes]];
        }
        $extended = $packet->xml();
        $digest = strtoupper(md5($extended));
        $main = XmpPacket::fresh();
        $main->setSimple('xmpNote:HasExtendedXMP', $digest);
        $segments = [[self::APP1, self::XMP.$main->bytes()]];
        $room = self::MOST - \strlen(self::EXTENDED) - 40;
        foreach (str_split($extended, $room) as $i => $part) {
            $segments[] = [self::APP1, self::EXTENDED.$digest.pack('NN', \strlen($extended), $i * $room).$part];
        }

        return $segments;
    }

    /** @return list<array{int, string}> */
    private static function resourceSegments(string $bytes): array
    {
        return '' === $bytes
            ? []
            : array_map(
                static fn (string $part): array => [self::APP13, self::RESOURCES.$part],
                str_split($bytes, self::MOST - \strlen(self::RESOURCES)),
            );
    }

    /**
     * @param list<array{int, int, int}> $segments
     *
     * @throws MetadataRefused
     */
    private function packet(FileBytes $bytes, array $segments): ?string
    {
        $main = $digest = null;
        $parts = [];
        foreach ($segments as [$marker, $offset, $length]) {
            if ('xmp' !== self::kindOf($bytes, $marker, $offset, $length)) {
                continue;
            }
            $payload = $bytes->read($offset, $length);
            if (str_starts_with($payload, self::XMP)) {
                $main ??= substr($payload, \strlen(self::XMP));
            } else {
                $head = substr($payload, \strlen(self::EXTENDED), 40);
                $at = unpack('N', $head, 36)[1] ?? 0;
                $parts[substr($head, 0, 32)][\is_int($at) ? $at : 0] = substr($payload, \strlen(self::EXTENDED) + 40);
            }
        }
        if (null === $main) {
            return null;
        }
        $packet = XmpPacket::read($main);
        $digest = $packet->simple('xmpNote:HasExtendedXMP');
        if (null === $digest || !isset($parts[$digest])) {
            return $main;
        }
        ksort($parts[$digest]);
        $extended = implode('', $parts[$digest]);
        if (strtoupper(md5($extended)) !== strtoupper($digest)) {
            throw MetadataRefused::structure('the extension of its XMP packet is not whole');
        }
        $packet->take(XmpPacket::read($extended));

        return $packet->bytes();
    }

    /**
     * @param list<array{int, int, int}> $segments
     * @param 'exif'|'resources'         $kind
     *
     * @return string|null the payloads behind their signatures; resources may go on in further segments
     */
    private static function payload(FileBytes $bytes, array $segments, string $kind, string $signature): ?string
    {
        $payload = null;
        foreach ($segments as [$marker, $offset, $length]) {
            if (
                $kind === self::kindOf($bytes, $marker, $offset, $length)
                && (null === $payload || 'resources' === $kind)
            ) {
                $payload .= substr($bytes->read($offset, $length), \strlen($signature));
            }
        }

        return $payload;
    }

    /** @return 'exif'|'xmp'|'resources'|'mpf'|null */
    private static function kindOf(FileBytes $bytes, int $marker, int $offset, int $length): ?string
    {
        if (self::APP1 !== $marker && self::APP2 !== $marker && self::APP13 !== $marker) {
            return null;
        }
        $head = $bytes->read($offset, min($length, \strlen(self::EXTENDED)));

        return match (true) {
            self::APP1 === $marker && str_starts_with($head, self::EXIF) => 'exif',
            self::APP1 === $marker && (str_starts_with($head, self::XMP) || self::EXTENDED === $head) => 'xmp',
            self::APP13 === $marker && str_starts_with($head, self::RESOURCES) => 'resources',
            self::APP2 === $marker && str_starts_with($head, self::PICTURES) => 'mpf',
            default => null,
        };
    }

    /**
     * @return non-empty-list<array{int, int, int}> marker, offset and length of the payload; the last one is the first
     *     scan, with the offset of its marker
     *
     * @throws MetadataRefused
     */
    private static function segments(FileBytes $bytes): array
    {
        if (self::START !== $bytes->read(0, 2)) {
            throw MetadataRefused::structure('it does not begin as a JPEG does');
        }
        $segments = [];
        $at = 2;
        while (true) {
            $head = $bytes->read($at, 4);
            while (str_starts_with($head, "\xFF\xFF")) { // fill bytes (T.81, B.1.1.2)
                $head = $bytes->read(++$at, 4);
            }
            if (\strlen($head) < 4 || "\xFF" !== $head[0]) {
                throw MetadataRefused::structure('its segments break off before the picture');
            }
            $marker = \ord($head[1]);
            if (self::SCAN === $marker) {
                $segments[] = [$marker, $at, 0];

                return $segments;
            }
            $length = (\ord($head[2]) << 8) + \ord($head[3]) - 2;
            if ($length < 0 || $at + 4 + $length > $bytes->size()) {
                throw MetadataRefused::structure('one of its segments is longer than the file');
            }
            $segments[] = [$marker, $at + 4, $length];
            $at += 4 + $length;
        }
    }

    /**
     * Sets the index of a multi-picture file right: its offsets count from its own TIFF header (CIPA DC-007,
     * 5.2.3.3.3), so they change by as much as what lies between that and the other pictures grew.
     *
     * @param list<array{int, int, int}> $segments
     * @param list<string|ByteRange>     $pieces
     *
     * @return list<string|ByteRange>
     */
    private function withIndex(FileBytes $bytes, array $segments, array $pieces): array
    {
        foreach ($segments as [$marker, $offset, $length]) {
            if ('mpf' !== self::kindOf($bytes, $marker, $offset, $length)) {
                continue;
            }
            $after = 0; // bytes behind the index, in the new file
            $place = null;
            foreach ($pieces as $i => $piece) {
                if ($piece instanceof ByteRange && $piece->offset === $offset - 4) {
                    $place = $i;
                } elseif (null !== $place) {
                    $after += \is_string($piece) ? \strlen($piece) : $piece->length;
                }
            }
            $grown = $after - ($bytes->size() - $offset - $length);
            if (null !== $place && 0 !== $grown) {
                $pieces[$place] = "\xFF".\chr($marker).pack('n', $length + 2).self::shifted($bytes->read($offset, $length), $grown);
            }
        }

        return array_values($pieces);
    }

    private static function shifted(string $payload, int $grown): string
    {
        $block = substr($payload, \strlen(self::PICTURES));
        $edit = TiffEdit::of(static fn (int $at, int $length): string => substr($block, $at, $length), \strlen($block));
        $entries = $edit->value(self::ENTRY_TAG);
        if (null === $entries) {
            return $payload;
        }
        $order = "\0\0\0\1" === $edit->packed(1) ? 'N' : 'V';
        foreach (str_split($entries, 16) as $i => $entry) {
            $offset = \strlen($entry) < 16 ? 0 : unpack($order, $entry, 8)[1] ?? 0;
            if (\is_int($offset) && $offset > 0) { // the first picture has none
                $entries = substr_replace($entries, $edit->packed($offset + $grown), 16 * $i + 8, 4);
            }
        }
        $edit->set([self::ENTRY_TAG => [TiffEdit::UNDEFINED, $entries]]);

        return self::PICTURES.$edit->bytes();
    }
}
