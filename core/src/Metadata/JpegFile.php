<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\ImageResources;
use Velvet\Core\Bytes\JpegPayload;
use Velvet\Core\Bytes\JpegSegment;
use Velvet\Core\Bytes\JpegSegments;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\TiffEdit;
use Velvet\Core\Bytes\TiffType;
use Velvet\Core\Bytes\XmpPacket;
use Velvet\Core\Capture\MultiPicture;

/**
 * JPEG (ITU-T T.81, annex B). Exif and XMP stand in APP1, IIM in APP13; they come first, behind JFIF's own segments.
 * All others stay in their order, and everything from the first scan on is copied as it is, with what lies behind the
 * picture. The index of a multi-picture file (CIPA DC-007) counts from itself, so it is set right where something
 * behind it grew.
 */
final class JpegFile implements PictureFile
{
    private const APP0 = 0xE0;
    /** What is made anew; the rest stays as it is. */
    private const OURS = [JpegPayload::Exif, JpegPayload::Xmp, JpegPayload::ExtendedXmp, JpegPayload::Resources];
    /** The property of the main packet that names the extension. */
    private const EXTENSION = 'xmpNote:HasExtendedXMP';
    /** A part of the extension: its digest, hexadecimal, the extension's length and the part's offset. */
    private const PART_DIGEST = 32;
    private const PART_HEADER = 40;

    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice
    {
        [$segments, $scan] = JpegSegments::of($bytes)->whole();
        [$own, $notes] = $this->written($bytes, $segments, $metadata, $history);
        $pieces = [JpegSegments::START];
        $isAhead = true;
        foreach ($segments as $segment) {
            if ($isAhead && self::APP0 !== $segment->marker) {
                $isAhead = false; // JFIF's own segments stay first; Exif wants to follow at once (Exif 2.32, 4.5.4)
                array_push($pieces, ...$own);
            }
            if (!\in_array($segment->holds, self::OURS, true)) {
                $pieces[] = Splice::range($bytes, $segment->start, JpegSegment::HEADER + $segment->length);
            }
        }
        if ($isAhead) {
            array_push($pieces, ...$own);
        }
        $pieces[] = Splice::range($bytes, $scan, $bytes->size() - $scan);

        return new Splice($this->withIndex($bytes, $segments, $pieces), $notes);
    }

    public function read(FileBytes $bytes): Metadata
    {
        [$segments] = JpegSegments::of($bytes)->whole();
        $xmp = $this->packet($bytes, $segments);

        return null === $xmp
            ? Packets::fromOlder(
                IimBlock::read(self::resources($bytes, $segments)->iim()),
                self::exif($bytes, $segments),
            )
            : Packets::fromXmp(XmpPacket::read($xmp));
    }

    public function picture(FileBytes $bytes): array
    {
        [$segments, $scan] = JpegSegments::of($bytes)->whole();
        $ranges = [];
        foreach ($segments as $segment) {
            if (!$segment->isBesidePicture()) {
                $ranges[] = Splice::range($bytes, $segment->start, JpegSegment::HEADER + $segment->length);
            }
        }
        $ranges[] = Splice::range($bytes, $scan, $bytes->size() - $scan);

        return $ranges;
    }

    /**
     * @param list<JpegSegment> $segments
     *
     * @return array{list<string>, list<string>} the segments of Exif, XMP and resources; notes
     */
    private function written(FileBytes $bytes, array $segments, Metadata $metadata, History $history): array
    {
        $packet = $this->packet($bytes, $segments);
        $xmp = null === $packet ? XmpPacket::fresh() : XmpPacket::read($packet);
        Packets::intoXmp($xmp, $metadata, $history);
        $resources = self::resources($bytes, $segments);
        $iim = IimBlock::read($resources->iim());
        $notes = Packets::intoIim($iim, $metadata);
        $resources->setIim($iim->bytes());
        $own = [];
        $edit = self::exif($bytes, $segments);
        if (null === $edit) { // one is not made for texts: it would lack what Exif demands
            $shown = Packets::shown($metadata); // for this, programs look nowhere else
            if (null !== $shown) {
                $own[] = self::segment(JpegPayload::Exif, Packets::exifShownAs($shown));
            }
        } else {
            $before = $edit->bytes();
            Packets::intoExif($edit, $metadata);
            $exif = $edit->bytes();
            if (\strlen(JpegPayload::Exif->signature().$exif) > JpegSegments::MOST_BYTES) {
                $exif = $before;
                $notes[] = 'There is no room in its Exif segment: what would stand there is in XMP and IIM only.';
            }
            $own[] = self::segment(JpegPayload::Exif, $exif);
        }

        return [[...$own, ...self::packetSegments($xmp), ...self::resourceSegments($resources->bytes())], $notes];
    }

    /**
     * A packet that is too long for one segment goes into the extension as a whole, and the first segment says no more
     * than which extension that is, by its MD5 (ISO 16684-3, 1.1.3.1).
     *
     * @return list<string>
     */
    private static function packetSegments(XmpPacket $packet): array
    {
        $room = JpegSegments::MOST_BYTES - \strlen(JpegPayload::Xmp->signature());
        $bytes = $packet->bytes(0);
        if (\strlen($bytes) > $room) {
            $bytes = $packet->bytes();
        }
        if (\strlen($bytes) <= $room) {
            return [self::segment(JpegPayload::Xmp, $bytes)];
        }
        $extended = $packet->xml();
        $digest = strtoupper(md5($extended));
        $main = XmpPacket::fresh();
        $main->setSimple(self::EXTENSION, $digest);
        $segments = [self::segment(JpegPayload::Xmp, $main->bytes())];
        $room = JpegSegments::MOST_BYTES - \strlen(JpegPayload::ExtendedXmp->signature()) - self::PART_HEADER;
        foreach (str_split($extended, max(1, $room)) as $i => $part) {
            $segments[] = self::segment(
                JpegPayload::ExtendedXmp,
                $digest.pack('NN', \strlen($extended), $i * $room).$part,
            );
        }

        return $segments;
    }

    /** @return list<string> */
    private static function resourceSegments(string $bytes): array
    {
        $room = JpegSegments::MOST_BYTES - \strlen(JpegPayload::Resources->signature());

        return '' === $bytes
            ? []
            : array_map(
                static fn (string $part): string => self::segment(JpegPayload::Resources, $part),
                str_split($bytes, max(1, $room)),
            );
    }

    private static function segment(JpegPayload $kind, string $content): string
    {
        return JpegSegment::bytes($kind->marker(), $kind->signature().$content);
    }

    /**
     * @param list<JpegSegment> $segments
     *
     * @throws StructureBroken
     */
    private function packet(FileBytes $bytes, array $segments): ?string
    {
        $main = null;
        $parts = [];
        foreach ($segments as $segment) {
            if (JpegPayload::Xmp === $segment->holds) {
                $main ??= $bytes->read($segment->content(), $segment->contentLength());
            } elseif (JpegPayload::ExtendedXmp === $segment->holds) {
                $part = $bytes->read($segment->content(), $segment->contentLength());
                $at = TiffBlock::number($part, self::PART_HEADER - 4, 4, false);
                $parts[substr($part, 0, self::PART_DIGEST)][$at] = substr($part, self::PART_HEADER);
            }
        }
        if (null === $main) {
            return null;
        }
        $packet = XmpPacket::read($main);
        $digest = $packet->simple(self::EXTENSION);
        if (null === $digest || !isset($parts[$digest])) {
            return $main;
        }
        ksort($parts[$digest]);
        $extended = implode('', $parts[$digest]);
        if (strtoupper(md5($extended)) !== strtoupper($digest)) {
            throw StructureBroken::because('the extension of its XMP packet is not whole');
        }
        $packet->take(XmpPacket::read($extended));

        return $packet->bytes();
    }

    /**
     * @param list<JpegSegment> $segments
     *
     * @throws StructureBroken
     */
    private static function exif(FileBytes $bytes, array $segments): ?TiffEdit
    {
        foreach ($segments as $segment) {
            if (JpegPayload::Exif === $segment->holds) {
                return TiffEdit::of($bytes, $segment->content(), $segment->contentLength());
            }
        }

        return null;
    }

    /**
     * @param list<JpegSegment> $segments in which they go on
     *
     * @throws StructureBroken
     */
    private static function resources(FileBytes $bytes, array $segments): ImageResources
    {
        $resources = '';
        foreach ($segments as $segment) {
            if (JpegPayload::Resources === $segment->holds) {
                $resources .= $bytes->read($segment->content(), $segment->contentLength());
            }
        }

        return ImageResources::read($resources);
    }

    /**
     * Sets the index of a multi-picture file right: its offsets count from its own TIFF header (CIPA DC-007,
     * 5.2.3.3.3), so they change by as much as what lies between that and the other pictures grew.
     *
     * @param list<JpegSegment>      $segments
     * @param list<string|ByteRange> $pieces
     *
     * @return list<string|ByteRange>
     */
    private function withIndex(FileBytes $bytes, array $segments, array $pieces): array
    {
        foreach ($segments as $segment) {
            if (JpegPayload::MultiPicture !== $segment->holds) {
                continue;
            }
            $after = 0; // bytes behind the index, in the new file
            $place = null;
            foreach ($pieces as $i => $piece) {
                if ($piece instanceof ByteRange && $piece->offset === $segment->start) {
                    $place = $i;
                } elseif (null !== $place) {
                    $after += \is_string($piece) ? \strlen($piece) : $piece->length;
                }
            }
            $grown = $after - ($bytes->size() - $segment->payload() - $segment->length);
            if (null !== $place && 0 !== $grown) {
                $pieces[$place] = self::segment(JpegPayload::MultiPicture, self::shifted($bytes, $segment, $grown));
            }
        }

        return array_values($pieces);
    }

    /** @return string the index, the offsets in it grown by so many bytes */
    private static function shifted(FileBytes $bytes, JpegSegment $segment, int $grown): string
    {
        $edit = TiffEdit::of($bytes, $segment->content(), $segment->contentLength());
        $entries = $edit->value(MultiPicture::ENTRIES) ?? '';
        for ($at = 8; $at + 8 <= \strlen($entries); $at += MultiPicture::ENTRY) {
            $offset = TiffBlock::number($entries, $at, 4, $edit->isLittleEndian());
            if ($offset > 0) { // the first picture has none
                $entries = substr_replace($entries, $edit->number($offset + $grown), $at, 4);
            }
        }
        if ('' !== $entries) {
            $edit->set(MultiPicture::ENTRIES, TiffType::Undefined, $entries);
        }

        return $edit->bytes();
    }
}
