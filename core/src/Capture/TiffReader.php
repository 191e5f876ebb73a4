<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Ifd;
use Velvet\Core\Bytes\TiffBlock;

/**
 * TIFF 6.0 and what is built on it, TIFF/EP raw files (ISO 12234-2) among them: the directories form a tree of chains
 * and sub-directories; the largest one that is not marked as a reduced copy is the picture, the others are previews of
 * it.
 */
final class TiffReader implements CaptureReader
{
    private const MOST_DIRECTORIES = 32;
    private const REDUCED = 1; // NewSubfileType, bit 0
    private const JPEG_COMPRESSIONS = [6, 7];
    private const CFA = 32803;
    private const MOST_PIECES = 100_000;
    private const RW2_PIXELS_A_BYTE = 4;

    public function recognises(string $head): ?Container
    {
        return TiffBlock::isHeader($head) ? Container::Tiff : null;
    }

    public function read(FileBytes $bytes, string $name): CaptureFacts
    {
        $exif = new ExifReading($name);
        $block = TiffBlock::at($bytes, 0, $bytes->size());
        $directories = null === $block ? [] : $this->directories($block);
        if (null === $block || [] === $directories) {
            return new CaptureFacts(
                problems: [CaptureProblem::broken($name, 'its directory of contents cannot be found')],
            );
        }
        ExifBlock::linked($bytes, $block, $directories[0], $exif);
        foreach ($directories as $directory) {
            $exif->take($directory);
        }
        $inside = $directories[0]->range(ExifTag::RW2_JPEG);
        if (null !== $inside) { // RW2 keeps its Exif in the JPEG that it carries
            JpegReader::segments($bytes, $inside->offset, $exif);
        }
        $exif->iso ??= $directories[0]->integer(ExifTag::RW2_ISO);
        $main = $this->mainImage($directories);
        $problems = [];
        if (null === $main && !$directories[0]->has(ExifTag::RW2_SENSOR_WIDTH)) {
            $problems[] = CaptureProblem::broken($name, 'no picture is described in it');
        } elseif (
            (null !== $main && !$this->isWhole($main, $bytes))
            || !$this->holdsSensorData($directories[0], $bytes)
            || [] !== array_filter($directories, static fn (Ifd $directory): bool => !$directory->isWhole)
        ) {
            $problems[] = CaptureProblem::cutShort($name);
        }
        $previews = $this->embeddedJpegs($directories, $exif, $bytes);
        $iiq = MakerNote::iiq($bytes);
        [$width, $height] = null === $iiq ? $this->size($directories[0], $main, $exif) : [$iiq[0], $iiq[1]];
        $exif->serial ??= $iiq[2] ?? null;

        $isViewable = [] === $previews
            && null !== $main
            && null === $iiq
            && self::CFA !== $main->integer(ExifTag::PHOTOMETRIC)
            && !$directories[0]->has(ExifTag::RW2_SENSOR_WIDTH);

        return $exif->facts(
            $width,
            $height,
            $previews[0] ?? null,
            [] === $previews ? null : $previews[\count($previews) - 1],
            $isViewable,
            $problems,
        );
    }

    /** @return list<Ifd> the chain of directories, each followed by its sub-directories */
    private function directories(TiffBlock $block): array
    {
        $found = [];
        $waiting = [$block->firstIfd];
        while ([] !== $waiting && \count($found) < self::MOST_DIRECTORIES) {
            $ifd = $block->ifd(array_shift($waiting));
            if (null === $ifd) {
                continue;
            }
            $found[] = $ifd;
            array_unshift($waiting, ...$ifd->integers(ExifTag::SUB_IFDS, self::MOST_DIRECTORIES));
            if (0 !== $ifd->next) {
                $waiting[] = $ifd->next;
            }
        }

        return $found;
    }

    /**
     * The size of the picture: RW2 has fields of its own, the masked border of the sensor is none of it; where only a
     * preview is described, as in CR2, the Exif directory knows the whole picture's size.
     *
     * @return array{int|null, int|null}
     */
    private function size(Ifd $first, ?Ifd $main, ExifReading $exif): array
    {
        if ($first->has(ExifTag::RW2_SENSOR_WIDTH)) {
            return [
                self::between($first, ExifTag::RW2_LEFT, ExifTag::RW2_RIGHT)
                    ?? $first->integer(ExifTag::RW2_SENSOR_WIDTH),
                self::between($first, ExifTag::RW2_TOP, ExifTag::RW2_BOTTOM)
                    ?? $first->integer(ExifTag::RW2_SENSOR_HEIGHT),
            ];
        }
        $width = $main?->integer(ExifTag::IMAGE_WIDTH);
        $height = $main?->integer(ExifTag::IMAGE_LENGTH);
        $isPreview = null !== $main && \in_array($main->integer(ExifTag::COMPRESSION), self::JPEG_COMPRESSIONS, true);

        return $isPreview && ($exif->pixelWidth ?? 0) > ($width ?? 0)
            ? [$exif->pixelWidth, $exif->pixelHeight]
            : [$width, $height];
    }

    /** Null where one of the two is missing, or nothing lies between them. */
    private static function between(Ifd $ifd, int $first, int $behind): ?int
    {
        $from = $ifd->integer($first);
        $to = $ifd->integer($behind);

        return null === $from || null === $to || $to <= $from ? null : $to - $from;
    }

    /** @param list<Ifd> $directories */
    private function mainImage(array $directories): ?Ifd
    {
        $best = null;
        $bestScore = [-1, -1, -1];
        foreach ($directories as $directory) {
            $pixels = ($directory->integer(ExifTag::IMAGE_WIDTH) ?? 0)
                * ($directory->integer(ExifTag::IMAGE_LENGTH) ?? 0);
            if (0 === $pixels) {
                continue;
            }
            $reduced = 0 !== (($directory->integer(ExifTag::NEW_SUBFILE_TYPE) ?? 0) & self::REDUCED);
            $score = [$reduced ? 0 : 1, self::CFA === $directory->integer(ExifTag::PHOTOMETRIC) ? 1 : 0, $pixels];
            if ($score > $bestScore) {
                [$best, $bestScore] = [$directory, $score];
            }
        }

        return $best;
    }

    private function isWhole(Ifd $image, FileBytes $bytes): bool
    {
        foreach ([
            [ExifTag::STRIP_OFFSETS, ExifTag::STRIP_BYTE_COUNTS],
            [ExifTag::TILE_OFFSETS, ExifTag::TILE_BYTE_COUNTS],
        ] as [$offsetsAt, $countsAt]) {
            $offsets = $image->integers($offsetsAt, self::MOST_PIECES);
            $counts = $image->integers($countsAt, self::MOST_PIECES);
            foreach ($offsets as $i => $offset) {
                if ($offset + ($counts[$i] ?? 1) > $bytes->size()) {
                    return false;
                }
            }
        }

        return true;
    }

    /**
     * RW2 does not say how long its sensor data are; but less than some bits for each pixel they never are (our
     * choice).
     */
    private function holdsSensorData(Ifd $first, FileBytes $bytes): bool
    {
        $pixels = ($first->integer(ExifTag::RW2_SENSOR_WIDTH) ?? 0)
            * ($first->integer(ExifTag::RW2_SENSOR_HEIGHT) ?? 0);
        $from = $first->integer(ExifTag::RW2_DATA) ?? $first->integer(ExifTag::STRIP_OFFSETS) ?? 0;

        return 0 === $pixels || $bytes->size() - $from >= intdiv($pixels, self::RW2_PIXELS_A_BYTE);
    }

    /**
     * @param list<Ifd> $directories
     *
     * @return list<ByteRange> smallest first
     */
    private function embeddedJpegs(array $directories, ExifReading $exif, FileBytes $bytes): array
    {
        $ranges = [];
        $inNote = null === $exif->makerNote ? null : MakerNote::preview($bytes, $exif->makerNote);
        if (null !== $inNote) {
            $ranges[] = $inNote;
        }
        foreach ($directories as $directory) {
            $whole = $directory->range(ExifTag::RW2_JPEG);
            if (null !== $whole) {
                $ranges[] = $whole;
            }
            [$offset, $length] = [$directory->integer(ExifTag::JPEG_OFFSET), $directory->integer(ExifTag::JPEG_LENGTH)];
            if (
                null === $offset
                && \in_array($directory->integer(ExifTag::COMPRESSION), self::JPEG_COMPRESSIONS, true)
            ) {
                $offsets = $directory->integers(ExifTag::STRIP_OFFSETS, 2);
                [$offset, $length] = 1 === \count($offsets)
                    ? [$offsets[0], $directory->integer(ExifTag::STRIP_BYTE_COUNTS)]
                    : [null, null];
            }
            $range = ByteRange::within($bytes->size(), $offset ?? -1, $length ?? 0);
            if (
                null !== $range
                && "\xFF\xD8\xFF" === $bytes->read($range->offset, 3)
                && !JpegReader::segments($bytes, $range->offset, null)->isLossless
            ) {
                $ranges[] = $range;
            }
        }
        usort($ranges, static fn (ByteRange $a, ByteRange $b): int => $a->length <=> $b->length);

        return $ranges;
    }
}
