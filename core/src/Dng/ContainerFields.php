<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\Box;
use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\MrwBlocks;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureFacts;

/**
 * What the raw files of all makers say beside their samples: Exif in full, wherever in the file it lies as a TIFF
 * structure, and the embedded pictures. (The containers are those of `docs/formats.md`.).
 */
final class ContainerFields
{
    /**
     * Bytes of a JPEG before the TIFF structure of its Exif, which for some makers is the only one: two markers, a
     * length, "Exif" and two zeros (EXIF 2.32, 4.5).
     */
    private const BEFORE_EXIF = 12;
    private const UUID = 16;

    /** @param string $path absolute; of the same file */
    public static function of(FileBytes $bytes, string $path): RawFields
    {
        $facts = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts;
        $head = $bytes->read(0, 24);
        [$first, $exif, $gps] = match (true) {
            str_starts_with($head, MrwBlocks::SIGNATURE) => self::structure(
                $bytes,
                (MrwBlocks::of($bytes)->blocks[MrwBlocks::TIFF] ?? null)?->offset,
            ),
            'ftypcrx' === substr($head, 4, 7) => self::inBoxes($bytes),
            default => self::structure($bytes, 0),
        };
        if (
            [] === $exif
            && null !== $facts->pictures->preview
            && "Exif\0\0" === $bytes->read($facts->pictures->preview->offset + self::BEFORE_EXIF - 6, 6)
        ) {
            [$own, $exif, $gps] = self::structure($bytes, $facts->pictures->preview->offset + self::BEFORE_EXIF);
            $first += $own;
        }
        foreach ([RawTag::MAKE => $facts->camera->make, RawTag::MODEL => $facts->camera->model] as $tag => $text) {
            $first += null === $text ? [] : [$tag => [TiffWriter::ASCII, $text."\0"]];
        }
        $first += [RawTag::ORIENTATION => [TiffWriter::SHORT, pack('v', $facts->size->orientation ?? 1)]];

        return new RawFields($first, $exif, $gps, [], self::jpegs($bytes, $facts));
    }

    /**
     * @return array{array<int, array{int, string}>, array<int, array{int, string}>, array<int, array{int, string}>}
     *     first directory, Exif and GPS; empty where they cannot be read
     */
    private static function structure(FileBytes $bytes, ?int $base): array
    {
        try {
            $tiff = null === $base ? null : TiffFields::of($bytes, base: $base);
            $first = $tiff?->directory($tiff->first())[0] ?? [];
            [$exif, $gps] = [
                TiffFields::integer($first, RawTag::EXIF_IFD, 0),
                TiffFields::integer($first, RawTag::GPS_IFD, 0),
            ];

            return [
                $first,
                0 === $exif ? [] : $tiff?->directory($exif)[0] ?? [],
                0 === $gps ? [] : $tiff?->directory($gps)[0] ?? [],
            ];
        } catch (DngRefused) {
            return [[], [], []];
        }
    }

    /**
     * @return array{array<int, array{int, string}>, array<int, array{int, string}>, array<int, array{int, string}>} of
     *     CR3: a TIFF structure for each directory
     */
    private static function inBoxes(FileBytes $bytes): array
    {
        $found = [];
        foreach (Box::within($bytes, 0, $bytes->size()) as $box) {
            foreach ('moov' === $box->type ? $box->children() : [] as $inner) {
                foreach ('uuid' === $inner->type ? $inner->children(self::UUID) : [] as $part) {
                    $found[$part->type] ??= str_starts_with($part->type, 'CMT')
                        ? self::structure($bytes, $part->start)[0]
                        : [];
                }
            }
        }

        return [$found['CMT1'] ?? [], $found['CMT2'] ?? [], $found['CMT4'] ?? []];
    }

    /** @return list<string> the largest first */
    private static function jpegs(FileBytes $bytes, CaptureFacts $facts): array
    {
        $ranges = array_values(
            array_filter(
                [$facts->pictures->preview, $facts->pictures->thumbnail],
                static fn (?ByteRange $range): bool => null !== $range,
            ),
        );

        return array_values(
            array_filter(
                array_map(
                    static fn (ByteRange $range): string => $bytes->read($range->offset, $range->length),
                    $ranges,
                ),
                static fn (string $jpeg): bool => str_starts_with($jpeg, "\xFF\xD8\xFF"),
            ),
        );
    }
}
