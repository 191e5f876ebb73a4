<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\FileBytes;

/**
 * A raw file that is a TIFF structure: TIFF/EP (ISO 12234-2) and DNG 1.7.1, in strips or tiles, uncompressed with 8 to
 * 16 bits or as lossless JPEG. What lies in it beside the samples is kept as fields.
 */
final readonly class RawFile
{
    private const CFA = 32803;
    private const LINEAR = 34892;
    private const MOST_DIRECTORIES = 40;
    private const MOST_JPEGS = 6;
    private const MOST_PIECES = 200_000;

    /**
     * @param array<int, array{int, string}> $raw the fields of the directory that holds the raw image
     */
    private function __construct(
        private FileBytes $bytes,
        private bool $littleEndian,
        private array $raw,
        private RawFields $fields,
    ) {
    }

    /** @throws DngRefused */
    public static function open(FileBytes $bytes): self
    {
        $tiff = TiffFields::of($bytes);
        [$first, $next] = $tiff->directory($tiff->first());
        $raw = null;
        $most = 0;
        $jpegs = [];
        $waiting = [...TiffFields::integers($first, RawTag::SUB_IFDS), ...(0 === $next ? [] : [$next])];
        $directories = [$first];
        $seen = [$tiff->first() => true];
        while ([] !== $waiting && \count($directories) < self::MOST_DIRECTORIES) {
            $offset = array_shift($waiting);
            if (isset($seen[$offset])) {
                continue;
            }
            $seen[$offset] = true;
            [$fields, $next] = $tiff->directory($offset);
            $directories[] = $fields;
            array_push($waiting, ...TiffFields::integers($fields, RawTag::SUB_IFDS), ...(0 === $next ? [] : [$next]));
        }
        foreach ($directories as $fields) {
            $size = TiffFields::integer($fields, RawTag::WIDTH, 0) * TiffFields::integer($fields, RawTag::LENGTH, 0);
            if (
                \in_array(TiffFields::integer($fields, RawTag::PHOTOMETRIC, 0), [self::CFA, self::LINEAR], true)
                && $size > $most
            ) {
                [$raw, $most] = [$fields, $size];
            }
            foreach ([[RawTag::STRIP_OFFSETS, RawTag::STRIP_BYTE_COUNTS], [0x0201, 0x0202]] as [$offsets, $lengths]) {
                $at = TiffFields::integers($fields, $offsets);
                $length = TiffFields::integers($fields, $lengths);
                if (
                    1 === \count($at)
                    && 1 === \count($length)
                    && $length[0] > 4
                    && "\xFF\xD8\xFF" === $bytes->read($at[0], 3)
                    && \in_array(TiffFields::integer($fields, RawTag::PHOTOMETRIC, 6), [2, 6], true)
                ) {
                    $jpegs[$at[0]] = [$at[0], $length[0]];
                }
            }
        }
        usort($jpegs, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        if (null === $raw) {
            throw DngRefused::unknownRaw('there are no samples of a sensor in it');
        }
        $exif = TiffFields::integer($first, RawTag::EXIF_IFD, 0);
        $gps = TiffFields::integer($first, RawTag::GPS_IFD, 0);

        return new self($bytes, $tiff->isLittleEndian(), $raw, new RawFields(
            $first, 0 === $exif ? [] : $tiff->directory($exif)[0], 0 === $gps ? [] : $tiff->directory($gps)[0], $raw,
            array_map(
                static fn (array $range): string => $bytes->read(...$range),
                \array_slice($jpegs, 0, self::MOST_JPEGS),
            ),
        ));
    }

    /** @throws DngRefused */
    public function image(): RawImage
    {
        $width = TiffFields::integer($this->raw, RawTag::WIDTH, 0);
        $height = TiffFields::integer($this->raw, RawTag::LENGTH, 0);
        $planes = TiffFields::integer($this->raw, RawTag::SAMPLES_PER_PIXEL, 1);
        RawImage::mustBeSane($width, $height, max(1, $planes));
        if (1 !== $planes && 3 !== $planes || 1 !== TiffFields::integer($this->raw, RawTag::PLANAR, 1)) {
            throw DngRefused::unknownRaw("$planes planes");
        }
        $isCfa = self::CFA === TiffFields::integer($this->raw, RawTag::PHOTOMETRIC, 0);
        [$rows, $columns] = TiffFields::integers($this->raw, RawTag::CFA_REPEAT) + [2, 2];
        $pattern = $isCfa ? TiffFields::integers($this->raw, RawTag::CFA_PATTERN) : [];
        if ($isCfa && (1 !== $planes || \count($pattern) !== $rows * $columns || $rows * $columns < 1)) {
            throw DngRefused::unknownRaw('its colour filter array is not told');
        }
        $bits = TiffFields::integer($this->raw, RawTag::BITS_PER_SAMPLE, 16);
        $crop = [
            ...TiffFields::integers($this->raw, RawTag::CROP_ORIGIN),
            ...TiffFields::integers($this->raw, RawTag::CROP_SIZE),
        ];
        $black = TiffFields::integers($this->raw, RawTag::BLACK_LEVEL);

        return new RawImage(
            $width, $height, $this->samples($width, $height, $planes, $bits), max(8, min(16, $bits)), $planes, $pattern,
            $isCfa ? $columns : 1,
            [] === $black ? [0] : $black, TiffFields::integer($this->raw, RawTag::WHITE_LEVEL, (1 << $bits) - 1),
            4 === \count($crop) ? $crop : null,
        );
    }

    public function isDng(): bool
    {
        return isset($this->fields->first[RawTag::VERSION]);
    }

    public function fields(): RawFields
    {
        return $this->fields;
    }

    /**
     * Decodes a part of the samples and compares them.
     *
     * @param int<0, max> $part which of so many parts
     * @param int<1, max> $of
     *
     * @return int|null the place of the first that is another; null where all are the same
     *
     * @throws DngRefused
     */
    public function differsFrom(RawImage $image, int $part = 0, int $of = 1): ?int
    {
        $length = TiffFields::integer($this->raw, RawTag::TILE_LENGTH, 0);
        if (
            $length < 1
            || $image->width !== TiffFields::integer($this->raw, RawTag::WIDTH, 0)
            || $image->height !== TiffFields::integer($this->raw, RawTag::LENGTH, 0)
        ) {
            return self::firstDifference($this->image()->samples, $image->samples);
        }
        $bands = intdiv($image->height + $length - 1, $length);
        [$from, $to] = [intdiv($bands * $part, $of), intdiv($bands * ($part + 1), $of)];
        $bandBytes = 2 * $image->width * $image->planes * $length;
        $samples = $from === $to
            ? ''
            : $this->samples(
                $image->width,
                $image->height,
                $image->planes,
                TiffFields::integer($this->raw, RawTag::BITS_PER_SAMPLE, 16),
                $from,
                $to,
            );
        $at = self::firstDifference($samples, substr($image->samples, $from * $bandBytes, ($to - $from) * $bandBytes));

        return null === $at ? null : $at + intdiv($from * $bandBytes, 2);
    }

    private static function firstDifference(string $samples, string $others): ?int
    {
        return $samples === $others ? null : intdiv(strspn($samples ^ $others, "\0"), 2);
    }

    /**
     * @param int|null $to the band of tiles or strips at which it ends; null for the last one
     *
     * @throws DngRefused
     */
    private function samples(int $width, int $height, int $planes, int $bits, int $from = 0, ?int $to = null): string
    {
        $tileWidth = TiffFields::integer($this->raw, RawTag::TILE_WIDTH, 0);
        $isTiled = $tileWidth > 0;
        $tileWidth = $isTiled ? $tileWidth : $width;
        $tileLength = $isTiled
            ? TiffFields::integer($this->raw, RawTag::TILE_LENGTH, 0)
            : min($height, TiffFields::integer($this->raw, RawTag::ROWS_PER_STRIP, $height));
        $offsets = TiffFields::integers($this->raw, $isTiled ? RawTag::TILE_OFFSETS : RawTag::STRIP_OFFSETS);
        $lengths = TiffFields::integers($this->raw, $isTiled ? RawTag::TILE_BYTE_COUNTS : RawTag::STRIP_BYTE_COUNTS);
        if ($tileLength < 1 || $tileWidth > 65_536 || $tileLength > 65_536) {
            throw DngRefused::structure('its tiles have an absurd size');
        }
        $across = intdiv($width + $tileWidth - 1, $tileWidth);
        $down = intdiv($height + $tileLength - 1, $tileLength);
        if (
            $across * $down > self::MOST_PIECES
            || \count($offsets) < $across * $down
            || \count($lengths) < $across * $down
        ) {
            throw DngRefused::structure('some of its tiles are missing');
        }
        $compression = TiffFields::integer($this->raw, RawTag::COMPRESSION, 1);
        $full = intdiv($tileWidth * $planes * $bits + 7, 8) * ($isTiled ? $tileLength * $across * $down : $height);
        if (1 === $compression && array_sum(\array_slice($lengths, 0, $across * $down)) > $full) {
            throw DngRefused::unknownRaw('its samples take more room than they should');
        }
        if (1 === $compression && 16 === $bits && $this->littleEndian && !$isTiled) { // as they lie there
            return $this->plain($offsets, 2 * $width * $planes, $tileLength, $height);
        }
        $decoder = new LosslessJpegDecoder();
        $samples = '';
        for ($y = $from; $y < ($to ?? $down); ++$y) {
            $rowsHere = min($tileLength, $height - $y * $tileLength);
            $band = array_fill(0, $rowsHere, '');
            for ($x = 0; $x < $across; ++$x) {
                $n = $y * $across + $x;
                $piece = $this->bytes->read($offsets[$n], min($lengths[$n], $this->bytes->size()));
                $rowBytes = 2 * $tileWidth * $planes;
                $stream = match ($compression) {
                    1 => self::unpacked(
                        $piece,
                        $tileWidth * $planes,
                        $isTiled ? $tileLength : $rowsHere,
                        $bits,
                        $this->littleEndian,
                    ),
                    7 => implode('', $decoder->decode($piece)[0]),
                    default => throw DngRefused::unknownRaw("compression $compression"),
                };
                if (\strlen($stream) < $rowBytes * $rowsHere) {
                    throw DngRefused::structure('it is cut short');
                }
                $keep = 2 * $planes * min($tileWidth, $width - $x * $tileWidth);
                for ($row = 0; $row < $rowsHere; ++$row) {
                    $band[$row] .= substr($stream, $row * $rowBytes, $keep);
                }
            }
            $samples .= implode('', $band);
        }

        return $samples;
    }

    /**
     * @param list<int> $offsets of strips
     *
     * @throws DngRefused
     */
    private function plain(array $offsets, int $rowBytes, int $rowsInStrip, int $rows): string
    {
        $strips = [];
        for ($row = 0; $row < $rows; $row += $rowsInStrip) {
            $length = $rowBytes * min($rowsInStrip, $rows - $row);
            $strips[] = $strip = $this->bytes->read($offsets[intdiv($row, $rowsInStrip)], $length);
            if (\strlen($strip) < $length) {
                throw DngRefused::structure('it is cut short');
            }
        }

        return 1 === \count($strips) ? $strips[0] : implode('', $strips);
    }

    /**
     * Uncompressed rows as numbers of 16 bits, little-endian; those of fewer than 16 bits but not 8 are packed, the
     * highest bit first (TIFF 6.0, FillOrder 1), each row from a byte of its own.
     */
    private static function unpacked(string $piece, int $perRow, int $rows, int $bits, bool $littleEndian): string
    {
        if (16 === $bits) {
            $piece = substr($piece, 0, 2 * $perRow * $rows);
            if ($littleEndian) {
                return $piece;
            }
            $turned = '';
            foreach (str_split($piece, 1 << 16) as $part) {
                $turned .= pack('v*', ...array_filter((array) unpack('n*', $part), is_int(...)));
            }

            return $turned;
        }
        if (8 === $bits) {
            return chunk_split(substr($piece, 0, $perRow * $rows), 1, "\0");
        }
        if ($bits < 9 || $bits > 15) {
            throw DngRefused::unknownRaw("$bits bits a sample");
        }
        $rowBytes = intdiv($perRow * $bits + 7, 8);
        $out = '';
        for ($row = 0; $row < $rows; ++$row) {
            $bytes = array_values(
                array_filter((array) unpack('C*', substr($piece, $row * $rowBytes, $rowBytes)), is_int(...)),
            );
            if (\count($bytes) < $rowBytes) {
                break;
            }
            $samples = [];
            $held = $count = $at = 0;
            for ($i = 0; $i < $perRow; ++$i) {
                while ($count < $bits) {
                    $held = ($held << 8 | $bytes[$at++]) & 0xFFFFFF;
                    $count += 8;
                }
                $count -= $bits;
                $samples[] = $held >> $count & ((1 << $bits) - 1);
            }
            $out .= pack('v*', ...$samples);
        }

        return $out;
    }
}
