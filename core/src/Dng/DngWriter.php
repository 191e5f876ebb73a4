<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\TiffWriter;

/**
 * Writes DNG (1.7.1, readable by programs for 1.4): the samples in tiles of lossless JPEG, the camera's own pictures as
 * previews, Exif as it was.
 */
final readonly class DngWriter
{
    /** Large enough that Huffman tables cost nothing, small enough to be read in parts. */
    private const TILE = 528;
    /** The sides of tiles are multiples of it (TIFF 6.0, section 15). */
    private const STEP = 16;
    /** Lengths also of 6, as patterns are. */
    private const LENGTH_STEP = 48;
    /** Places all over the image at which the predictors are tried, and rows at each. */
    private const TRIED_AT = 18;
    private const TRIED_ROWS = 9;
    /** Of the first directory of a raw file, what describes the picture and not its storage. */
    private const KEPT = [
        270,
        RawTag::MAKE,
        RawTag::MODEL,
        RawTag::ORIENTATION,
        282,
        283,
        296,
        306,
        315,
        RawTag::XMP,
        33432,
    ];
    /**
     * From the matrices to the illuminants; between them lies what makers keep for themselves, with offsets that would
     * not hold.
     */
    private const LAST_OF_COLOURS = 50779;
    private const PRIVATE_DATA = 50740;
    /**
     * Camera calibration signature, forward matrices, baseline exposure offset, and what is said of profiles (DNG 1.2
     * to 1.4).
     */
    private const MORE_OF_COLOURS = [
        50931,
        50932,
        50934,
        50936,
        50937,
        50938,
        50939,
        50940,
        50941,
        50942,
        50964,
        50965,
        50981,
        50982,
        51107,
        51108,
        51109,
        51110,
    ];
    private const SOFTWARE = 'Velvet Ledger';
    /**
     * What a source that is a DNG says of its raw image and holds for ours, too: linearisation, levels, areas,
     * corrections (DNG 1.7.1; none is newer than 1.4).
     */
    private const KEPT_OF_RAW = [
        50710,
        50711,
        50712,
        RawTag::BLACK_REPEAT,
        RawTag::BLACK_LEVEL,
        50715,
        50716,
        RawTag::WHITE_LEVEL,
        RawTag::DEFAULT_SCALE,
        RawTag::CROP_ORIGIN,
        RawTag::CROP_SIZE,
        50733,
        50737,
        50738,
        50780,
        RawTag::ACTIVE_AREA,
        RawTag::MASKED_AREAS,
        51008,
        51009,
        51022,
        51041,
        51125,
    ];

    /** @param int $cores that the samples are written on side by side */
    public function __construct(private LosslessJpegEncoder $encoder, private int $cores = 1)
    {
    }

    /**
     * @param string      $digest       the image's
     * @param string      $originalName the raw file's name
     * @param string|null $original     the raw file itself, to be embedded
     *
     * @throws DngRefused
     */
    public function of(
        RawFields $source,
        RawImage $image,
        string $digest,
        string $originalName,
        ?string $original = null,
    ): string {
        $tiff = new TiffWriter();
        $raw = $tiff->directory(
            array_intersect_key($source->raw, array_flip(self::KEPT_OF_RAW)) + $this->raw($tiff, $image, $digest),
        );
        $sub = [$raw];
        $previews = Previews::of($source->jpegs);
        if (null !== $previews->full) {
            $sub[] = $tiff->directory(self::preview($tiff, $previews->full));
        }
        $kept = array_intersect_key($source->first, array_flip(self::KEPT));
        // profiles find their camera by it
        $model = $source->text(RawTag::UNIQUE_CAMERA_MODEL);
        $model = '' === $model ? trim($source->text(RawTag::MAKE).' '.$source->text(RawTag::MODEL)) : $model;
        $fields = [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 1],
            RawTag::SOFTWARE => [TiffWriter::ASCII, self::SOFTWARE],
            RawTag::SUB_IFDS => [TiffWriter::LONG, $sub],
            RawTag::VERSION => [TiffWriter::BYTE, [1, 4, 0, 0]],
            RawTag::BACKWARD_VERSION => [TiffWriter::BYTE, [1, 4, 0, 0]],
            RawTag::UNIQUE_CAMERA_MODEL => [TiffWriter::ASCII, '' === $model ? 'Unknown' : $model],
            RawTag::ORIGINAL_NAME => [TiffWriter::BYTE, $originalName."\0"],
            RawTag::RAW_DATA_UNIQUE_ID => [TiffWriter::BYTE, md5($model.$digest, true)],
        ] + self::colours($source, $image->colours) + $kept;
        if (null !== $previews->medium) {
            $fields = self::preview($tiff, $previews->medium) + $fields;
        }
        if (null !== $original) {
            $embedded = EmbeddedOriginal::of($original);
            $fields[RawTag::ORIGINAL_DATA] = [TiffWriter::UNDEFINED, $embedded];
            $fields[RawTag::ORIGINAL_DIGEST] = [TiffWriter::BYTE, md5($embedded, true)];
        }
        unset($fields[RawTag::EXIF_IFD], $fields[RawTag::GPS_IFD]);
        if ([] !== $source->exif) {
            $fields[RawTag::EXIF_IFD] = [TiffWriter::LONG, $tiff->directory($source->exif)];
        }
        if ([] !== $source->gps) {
            $fields[RawTag::GPS_IFD] = [TiffWriter::LONG, $tiff->directory($source->gps)];
        }

        return $tiff->finished($tiff->directory($fields));
    }

    /**
     * The tiles, each as lossless JPEG, left to right and down.
     *
     * @return list<string>
     */
    public function tiles(RawImage $image): array
    {
        [$width, $length] = self::tileOf($image);
        $across = intdiv($image->width + $width - 1, $width);
        $down = intdiv($image->height + $length - 1, $length);
        $components = 1 === $image->planes ? 2 : 3;
        $costs = array_fill(1, 7, 0);
        for ($place = 0; $place < self::TRIED_AT; ++$place) {
            $n = intdiv($place * $across * $down, self::TRIED_AT);
            $rows = self::rows($image, $n % $across, intdiv($n, $across));
            $rows = \array_slice(
                $rows,
                intdiv(max(0, \count($rows) - self::TRIED_ROWS) * ($place * 7 % self::TRIED_AT), self::TRIED_AT),
                self::TRIED_ROWS,
            );
            \assert([] !== $rows);
            foreach (array_keys($costs) as $predictor) {
                $costs[$predictor] += $this->encoder->cost($rows, $components, $image->bits, $predictor);
            }
        }
        $best = (int) array_search(min($costs), $costs, true);
        $parts = [];
        for ($part = 0; $part < max(1, $this->cores); ++$part) {
            $parts[] = function () use ($image, $across, $down, $components, $best, $part): string {
                [$from, $to] = [
                    intdiv($across * $down * $part, max(1, $this->cores)),
                    intdiv($across * $down * ($part + 1), max(1, $this->cores)),
                ];
                $tiles = [];
                for ($n = $from; $n < $to; ++$n) {
                    $tile = $this->encoder->encode(
                        self::rows($image, $n % $across, intdiv($n, $across)),
                        $components,
                        $image->bits,
                        $best,
                    );
                    $tiles[] = pack('V', \strlen($tile)).$tile;
                }

                return implode('', $tiles);
            };
        }
        $tiles = [];
        foreach (SideBySide::of($parts) as $made) {
            for ($at = 0; $at < \strlen($made); $at += 4 + $length) {
                $length = TiffBlock::number($made, $at, 4, true);
                $tiles[] = substr($made, $at + 4, $length);
            }
        }

        return $tiles;
    }

    /**
     * A tile's samples as the rows of a JPEG: of a filter array, as many rows of the tile as its pattern has make one,
     * so that what is above is of the same colour, and every other sample is a component, so that what is to the left
     * is. (DNG 1.7.1, Compression: only the order of the samples counts.) Beyond the picture's edge the pattern goes
     * on.
     *
     * @return non-empty-list<string>
     */
    private static function rows(RawImage $image, int $x, int $y): array
    {
        [$width, $length] = self::tileOf($image);
        $period = max(1, intdiv(\count($image->pattern), max(1, $image->patternWidth)));
        $lineBytes = 2 * $image->width * $image->planes;
        $tileBytes = 2 * $width * $image->planes;
        $from = $x * $tileBytes;
        $here = min($tileBytes, $lineBytes - $from);
        $edge = 2 * $image->planes * min($image->patternWidth, $image->width);
        $rows = [];
        $joined = '';
        for ($row = 0; $row < $length; ++$row) {
            $line = $y * $length + $row;
            if ($line >= $image->height) {
                $line = max($line % $period, $image->height - $period + ($line - $image->height) % $period);
                $line = min($line, $image->height - 1);
            }
            $part = substr($image->samples, $line * $lineBytes + $from, $here);
            if ($here < $tileBytes) {
                $last = substr($image->samples, ($line + 1) * $lineBytes - $edge, $edge);
                $part .= substr(str_repeat($last, intdiv($tileBytes - $here, $edge) + 1), 0, $tileBytes - $here);
            }
            $joined .= $part;
            if (0 === ($row + 1) % $period) {
                $rows[] = $joined;
                $joined = '';
            }
        }
        \assert([] !== $rows);

        return $rows;
    }

    /**
     * Width and length of the tiles. Those of a small image are not longer than they must be, and not wider than it is:
     * some readers break the rows of a tile where the image ends (seen with dcraw and LibRaw 0.20).
     *
     * @return array{int, int}
     */
    private static function tileOf(RawImage $image): array
    {
        return [
            max(self::STEP, min(self::TILE, self::STEP * intdiv($image->width, self::STEP))),
            min(self::TILE, self::LENGTH_STEP * intdiv($image->height + self::LENGTH_STEP - 1, self::LENGTH_STEP)),
        ];
    }

    /** @return array<int, array{int, mixed}> */
    private function raw(TiffWriter $tiff, RawImage $image, string $digest): array
    {
        [$width, $length] = self::tileOf($image);
        $tiles = $this->tiles($image);
        $offsets = array_map($tiff->data(...), $tiles);
        $active = $image->active ?? [0, 0, $image->height, $image->width];
        $crop = $image->crop ?? [0, 0, $active[3] - $active[1], $active[2] - $active[0]];
        $rows = intdiv(\count($image->pattern), max(1, $image->patternWidth));
        $fields = [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 0],
            RawTag::WIDTH => [TiffWriter::LONG, $image->width],
            RawTag::LENGTH => [TiffWriter::LONG, $image->height],
            RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, array_fill(0, $image->planes, 16)],
            RawTag::COMPRESSION => [TiffWriter::SHORT, 7],
            RawTag::PHOTOMETRIC => [TiffWriter::SHORT, [] === $image->pattern ? 34892 : 32803],
            RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, $image->planes],
            RawTag::PLANAR => [TiffWriter::SHORT, 1],
            RawTag::TILE_WIDTH => [TiffWriter::LONG, $width],
            RawTag::TILE_LENGTH => [TiffWriter::LONG, $length],
            RawTag::TILE_OFFSETS => [TiffWriter::LONG, $offsets],
            RawTag::TILE_BYTE_COUNTS => [TiffWriter::LONG, array_map(strlen(...), $tiles)],
            RawTag::WHITE_LEVEL => [TiffWriter::LONG, array_fill(0, $image->planes, $image->white)],
            RawTag::DEFAULT_SCALE => [TiffWriter::RATIONAL, [1, 1, 1, 1]],
            RawTag::CROP_ORIGIN => [TiffWriter::LONG, [$crop[0], $crop[1]]],
            RawTag::CROP_SIZE => [TiffWriter::LONG, [$crop[2], $crop[3]]],
            RawTag::RAW_IMAGE_DIGEST => [TiffWriter::BYTE, $digest],
            RawTag::ACTIVE_AREA => [TiffWriter::LONG, $active],
        ];
        if ([] !== $image->masked) {
            $fields[RawTag::MASKED_AREAS] = [TiffWriter::LONG, $image->masked];
        }
        if ([] !== $image->pattern) {
            $blackWidth = 1 === \count($image->black) ? 1 : $image->blackWidth ?? $image->patternWidth;
            $fields += [
                RawTag::CFA_REPEAT => [TiffWriter::SHORT, [$rows, $image->patternWidth]],
                RawTag::CFA_PATTERN => [TiffWriter::BYTE, $image->pattern],
                RawTag::CFA_PLANE_COLOR => [TiffWriter::BYTE, [0, 1, 2]],
                RawTag::CFA_LAYOUT => [TiffWriter::SHORT, 1],
                RawTag::BLACK_REPEAT => [TiffWriter::SHORT, [intdiv(\count($image->black), $blackWidth), $blackWidth]],
                RawTag::BLACK_LEVEL => [TiffWriter::LONG, $image->black],
            ];
        }

        return $fields;
    }

    /** @return array<int, array{int, mixed}> those of the source where it has them */
    private static function colours(RawFields $source, ?SensorColours $known): array
    {
        $kept = array_filter(
            $source->first,
            static fn (int $tag): bool => \in_array($tag, self::MORE_OF_COLOURS, true)
                || (
                    $tag >= RawTag::COLOR_MATRIX_1
                    && $tag <= self::LAST_OF_COLOURS
                    && self::PRIVATE_DATA !== $tag
                ),
            \ARRAY_FILTER_USE_KEY,
        );

        return isset($kept[RawTag::COLOR_MATRIX_1]) ? $kept : $kept + ($known ?? new SensorColours())->fields();
    }

    /** @return array<int, array{int, mixed}> */
    private static function preview(TiffWriter $tiff, string $jpeg): array
    {
        $size = getimagesizefromstring($jpeg);
        [$width, $height] = false === $size ? [0, 0] : $size;

        return [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 1],
            RawTag::WIDTH => [TiffWriter::LONG, $width],
            RawTag::LENGTH => [TiffWriter::LONG, $height],
            RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, [8, 8, 8]],
            RawTag::COMPRESSION => [TiffWriter::SHORT, 7],
            RawTag::PHOTOMETRIC => [TiffWriter::SHORT, 6],
            RawTag::STRIP_OFFSETS => [TiffWriter::LONG, $tiff->data($jpeg)],
            RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, 3],
            RawTag::ROWS_PER_STRIP => [TiffWriter::LONG, $height],
            RawTag::STRIP_BYTE_COUNTS => [TiffWriter::LONG, \strlen($jpeg)],
            RawTag::PLANAR => [TiffWriter::SHORT, 1],
            530 => [TiffWriter::SHORT, [2, 2]], // YCbCrSubSampling
        ];
    }
}
