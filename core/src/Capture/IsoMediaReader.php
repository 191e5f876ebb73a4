<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\Box;
use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\XmpPacket;

/**
 * HEIF, HIF and AVIF (ISO 23008-12: an Exif item found through `iinf` and `iloc`), and CR3 (TIFF blocks and JPEGs in
 * boxes of the maker's `uuid`, well known), all in ISO base media files (ISO 14496-12).
 */
final class IsoMediaReader implements CaptureReader
{
    private const STILL_BRANDS = [
        'heic', 'heix', 'heim', 'heis', 'mif1', 'mif2', 'msf1', 'avif', 'avis', 'miaf', 'hevc',
    ];
    private const CR3_BRAND = 'crx ';
    private const CR3_FACTS = "\x85\xC0\xB6\x87\x82\x0F\x11\xE0\x81\x11\xF4\xCE\x46\x2B\x6A\x48";
    private const CR3_PREVIEW = "\xEA\xF4\x2B\x5E\x1C\x98\x4B\x88\xB9\xFB\xB7\xDC\x40\x6E\x4D\x16";
    private const MOST_ITEMS = 5000;

    public function recognises(string $head): ?Container
    {
        $brand = substr($head, 8, 4);

        return match (true) {
            'ftyp' !== substr($head, 4, 4) => null,
            self::CR3_BRAND === $brand => Container::Cr3,
            \in_array($brand, self::STILL_BRANDS, true) => Container::Heif,
            default => null,
        };
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $boxes = [];
        $isWhole = true;
        foreach (Box::within($bytes, 0, $bytes->size()) as $box) {
            $boxes[$box->type] ??= $box;
            $isWhole = $isWhole && $box->isWhole;
            if ('uuid' === $box->type && self::CR3_PREVIEW === $box->read(0, 16)) {
                $boxes['preview'] = $box;
            }
        }
        $exif = new ExifReading($name);
        $problems = $isWhole && isset($boxes['mdat']) ? [] : [CaptureProblem::cutShort($name)];
        if (self::CR3_BRAND === $bytes->read(8, 4)) {
            return $this->cr3($bytes, $boxes['moov'] ?? null, $boxes['preview'] ?? null, $exif, $problems);
        }
        $meta = $boxes['meta'] ?? null;
        if (null === $meta) {
            return $exif->facts(
                null,
                null,
                problems: [CaptureProblem::broken($name, 'its table of contents is missing')],
            );
        }
        [$width, $height] = $this->heif($bytes, $meta, $exif);

        return $exif->facts($width, $height, null, null, true, $problems);
    }

    /** @return array{int|null, int|null} the size of the largest image item, before rotation */
    private function heif(FileBytes $bytes, Box $meta, ExifReading $exif): array
    {
        foreach ($this->items($meta, 'Exif') as $id) {
            $range = $this->location($bytes, $meta, $id);
            if (null !== $range && $range->length > 8) {
                // the item begins with the offset of the TIFF header, counted behind these four bytes
                // (ISO 23008-12, A.2.1)
                $skip = 4 + TiffBlock::number($bytes->read($range->offset, 4), 0, 4, false);
                ExifBlock::read($bytes, $range->offset + $skip, $range->length - $skip, $exif);
            }
        }
        foreach ($this->items($meta, 'mime') as $id) { // XMP, as application/rdf+xml (ISO 16684-3); others are none
            $range = $this->location($bytes, $meta, $id);
            if (null !== $range && $range->length <= XmpPacket::LONGEST) {
                XmpFacts::add($bytes->read($range->offset, $range->length), $exif);
            }
        }
        $size = [null, null];
        foreach ($meta->child('iprp', 4)?->child('ipco')?->children() ?? [] as $property) {
            if (
                'ispe' === $property->type
                && $property->number(4, 4) * $property->number(8, 4) > ($size[0] ?? 0) * ($size[1] ?? 0)
            ) {
                $size = [$property->number(4, 4), $property->number(8, 4)];
            }
        }

        return $size;
    }

    /** @return list<int> ids of the items of a type */
    private function items(Box $meta, string $type): array
    {
        $list = $meta->child('iinf', 4);
        $found = [];
        foreach ($list?->children(0 === $list->number(0, 1) ? 6 : 8) ?? [] as $entry) {
            $wide = 3 === $entry->number(0, 1) ? 4 : 2;
            if ('infe' === $entry->type && $entry->number(0, 1) >= 2 && $type === $entry->read(4 + $wide + 2, 4)) {
                $found[] = $entry->number(4, $wide);
            }
        }

        return $found;
    }

    /** Where an item of one extent lies in the file (ISO 14496-12, 8.11.3). */
    private function location(FileBytes $bytes, Box $meta, int $wanted): ?ByteRange
    {
        $table = $meta->child('iloc', 4);
        if (null === $table) {
            return null;
        }
        $version = $table->number(0, 1);
        $sizes = $table->number(4, 2);
        [$offsetSize, $lengthSize, $baseSize, $indexSize] = [
            $sizes >> 12,
            $sizes >> 8 & 15,
            $sizes >> 4 & 15,
            $version > 0 ? $sizes & 15 : 0,
        ];
        $wide = $version < 2 ? 2 : 4;
        $count = min(self::MOST_ITEMS, $table->number(6, $wide));
        $at = 6 + $wide;
        for ($n = 0; $n < $count; ++$n) {
            $id = $table->number($at, $wide);
            $at += $wide;
            $inFile = 0 === ($version > 0 ? $table->number($at, 2) & 15 : 0);
            $at += ($version > 0 ? 2 : 0) + 2;
            $base = $this->wide($table, $at, $baseSize);
            $at += $baseSize;
            $extents = $table->number($at, 2);
            $at += 2;
            if ($id === $wanted) {
                return $inFile && 1 === $extents
                    ? ByteRange::within(
                        $bytes->size(),
                        $base + $this->wide($table, $at + $indexSize, $offsetSize),
                        $this->wide($table, $at + $indexSize + $offsetSize, $lengthSize),
                    )
                    : null;
            }
            $at += $extents * ($indexSize + $offsetSize + $lengthSize);
        }

        return null;
    }

    /** A number of 0, 4 or 8 bytes. */
    private function wide(Box $box, int $at, int $width): int
    {
        return 8 === $width
            ? ($box->number($at, 4) & 0x7FFFFFFF) << 32 | $box->number($at + 4, 4)
            : (0 === $width ? 0 : $box->number($at, $width));
    }

    /** @param list<CaptureProblem> $problems */
    private function cr3(
        FileBytes $bytes,
        ?Box $moov,
        ?Box $previewBox,
        ExifReading $exif,
        array $problems,
    ): CaptureFacts {
        $thumbnail = $width = $height = null;
        $directories = [];
        foreach ($moov?->children() ?? [] as $box) {
            $facts = 'uuid' === $box->type && self::CR3_FACTS === $box->read(0, 16) ? $box->children(16) : [];
            foreach ($facts as $part) {
                if ('THMB' === $part->type) {
                    $thumbnail = $part->jpeg();
                } elseif (\in_array($part->type, ['CMT1', 'CMT2', 'CMT4'], true)) {
                    $block = TiffBlock::at($bytes, $part->start, $part->length);
                    $directories[$part->type] = $block?->ifd($block->firstIfd);
                }
            }
        }
        foreach (['CMT2', 'CMT1'] as $type) { // the Exif directory speaks first
            if (isset($directories[$type])) {
                $exif->take($directories[$type]);
            }
        }
        if (isset($directories['CMT4'])) {
            $exif->takePlace($directories['CMT4']);
        }
        $width = ($directories['CMT1'] ?? null)?->integer(ExifTag::IMAGE_WIDTH) ?? $exif->pixelWidth;
        $height = ($directories['CMT1'] ?? null)?->integer(ExifTag::IMAGE_LENGTH) ?? $exif->pixelHeight;
        $preview = null;
        foreach ($previewBox?->children(24) ?? [] as $part) {
            $preview ??= 'PRVW' === $part->type ? $part->jpeg() : null;
        }

        return $exif->facts($width, $height, $thumbnail, $this->fullJpeg($bytes, $moov) ?? $preview, false, $problems);
    }

    /** The first track of a CR3 holds one sample: the picture as a JPEG of full size. */
    private function fullJpeg(FileBytes $bytes, ?Box $moov): ?ByteRange
    {
        $table = $moov?->child('trak')?->child('mdia')?->child('minf')?->child('stbl');
        $sizes = $table?->child('stsz');
        $offsets = $table?->child('co64');
        if (null === $sizes || null === $offsets) {
            return null;
        }
        $length = $sizes->number(4, 4);
        $range = ByteRange::within(
            $bytes->size(),
            $this->wide($offsets, 8, 8),
            0 === $length ? $sizes->number(12, 4) : $length,
        );

        return null !== $range && "\xFF\xD8\xFF" === $bytes->read($range->offset, 3) ? $range : null;
    }
}
