<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Dng;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Dng\Conversion;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\EmbeddedOriginal;
use Velvet\Core\Dng\Previews;
use Velvet\Core\Dng\RawFile;
use Velvet\Core\Dng\RawImage;
use Velvet\Core\Dng\RawTag;
use Velvet\Core\Dng\SideBySide;
use Velvet\Core\Dng\TiffFields;
use Velvet\Core\Tests\TemporaryFolder;

/** Raw files with known samples; the DNG made of them is read by dcraw, by LibRaw and by exiftool from Debian. */
final class ConversionTest extends TestCase
{
    use TemporaryFolder;

    private const BAYER = [0, 1, 1, 2];
    private const SIX_BY_SIX = [
        1,
        1,
        0,
        1,
        1,
        2,
        1,
        1,
        2,
        1,
        1,
        0,
        2,
        0,
        1,
        0,
        2,
        1,
        1,
        1,
        2,
        1,
        1,
        0,
        1,
        1,
        0,
        1,
        1,
        2,
        0,
        2,
        1,
        2,
        0,
        1,
    ];

    /**
     * @param list<int>               $pattern
     * @param \Closure(int, int): int $sample
     */
    #[DataProvider('raws')]
    public function testOtherProgramsFindTheSamples(
        int $width,
        int $height,
        int $bits,
        array $pattern,
        bool $littleEndian,
        \Closure $sample,
    ): void {
        $samples = [];
        for ($y = 0; $y < $height; ++$y) {
            for ($x = 0; $x < $width; ++$x) {
                $samples[] = $sample($x, $y);
            }
        }
        $raw = $this->raw($width, $height, $bits, $pattern, $littleEndian, $samples);
        $dng = $this->folder.'/T0001.dng';
        $conversion = Conversion::of($raw, $dng);
        self::assertSame(filesize($dng), $conversion->bytesAfter);
        self::assertSame(pack('v*', ...$samples), RawFile::open(FileBytes::open($dng))->image()->samples);
        self::assertSame(md5(pack('v*', ...$samples)), $conversion->samples);
        $expected = md5(pack('n*', ...$samples)); // PGM is big-endian
        self::assertSame(
            $expected,
            self::ofPgm((string) shell_exec('dcraw -D -4 -t 0 -c '.escapeshellarg($dng))),
            'dcraw -D',
        );
        exec('cd '.escapeshellarg($this->folder).' && unprocessed_raw -q T0001.dng 2>&1', $output, $status);
        self::assertSame(0, $status, implode("\n", $output));
        self::assertSame($expected, self::ofPgm((string) file_get_contents($dng.'.pgm')), 'LibRaw');
        exec('exiftool -validate -warning -error -a '.escapeshellarg($dng), $lines);
        self::assertSame(['Validate                        : OK'], $lines);
    }

    /** @return iterable<string, array{int, int, int, list<int>, bool, \Closure(int, int): int}> */
    public static function raws(): iterable
    {
        $noise = static fn (int $bits): \Closure => static function (int $x, int $y) use ($bits): int {
            $ramp = ($x * 9 + $y * 5) & ((1 << $bits) - 1);

            return $ramp >> 1 ^ (crc32("$x $y") & (1 << ($bits - 3)) - 1);
        };
        foreach ([8, 10, 12, 14, 16] as $bits) {
            yield "$bits bits" => [96, 64, $bits, self::BAYER, true, $noise($bits)];
        }
        foreach (['GRBG' => [1, 0, 2, 1], 'GBRG' => [1, 2, 0, 1], 'BGGR' => [2, 1, 1, 0]] as $name => $pattern) {
            yield $name => [96, 64, 14, $pattern, true, $noise(14)];
        }
        yield 'six by six' => [108, 84, 14, self::SIX_BY_SIX, true, $noise(14)];
        yield 'big-endian' => [96, 64, 16, self::BAYER, false, $noise(16)];
        yield 'odd sides' => [97, 65, 14, self::BAYER, true, $noise(14)];
        yield 'larger than a tile, and no multiple of it' => [601, 543, 12, self::BAYER, true, $noise(12)];
        yield 'constant' => [96, 64, 14, self::BAYER, true, static fn (): int => 512];
        yield 'black' => [96, 64, 14, self::BAYER, true, static fn (): int => 0];
        yield 'black and white' => [
            96,
            64,
            16,
            self::BAYER,
            true,
            static fn (int $x, int $y): int => 0 === (($x >> 1 ^ $y >> 1) & 1) ? 0 : 65535,
        ];
    }

    public function testWhatLiesBesideTheSamplesComesAlong(): void
    {
        $raw = $this->raw(96, 64, 14, self::BAYER, true, array_fill(0, 96 * 64, 700));
        $dng = $this->folder.'/out.dng';
        Conversion::of($raw, $dng);
        $tags = static function (string $path): array {
            $json = json_decode((string) shell_exec('exiftool -json -G1 -a '.escapeshellarg($path)), true);

            return \is_array($json) && \is_array($json[0]) ? $json[0] : [];
        };
        [$before, $after] = [$tags($raw), $tags($dng)];
        foreach ($before as $tag => $value) {
            if (1 === preg_match('/^(ExifIFD|GPS):/', (string) $tag)) {
                self::assertSame($value, $after[$tag] ?? null, (string) $tag);
            }
        }
        self::assertSame(
            ['Tarn Optical', 'Heron 5', 'T0001.TRW', 'Tarn Optical Heron 5', '1.4.0.0', 'Rotate 90 CW'],
            [
                $after['IFD0:Make'] ?? null,
                $after['IFD0:Model'] ?? null,
                $after['IFD0:OriginalRawFileName'] ?? null,
                $after['IFD0:UniqueCameraModel'] ?? null,
                $after['IFD0:DNGVersion'] ?? null,
                $after['IFD0:Orientation'] ?? null,
            ],
        );
        self::assertStringStartsWith(
            "\xFF\xD8\xFF",
            (string) shell_exec('exiftool -b -PreviewImage '.escapeshellarg($dng)),
            'the camera\'s own picture',
        );
        exec('tiffinfo '.escapeshellarg($dng).' 2>&1 > /dev/null', $complaints);
        self::assertSame(
            ['TIFFReadDirectory: Warning, Unknown field with tag 50972 (0xc71c) encountered.'],
            $complaints,
            'libtiff does not know RawImageDigest',
        );
    }

    /**
     * @param list<int>      $edges  of the pictures in the raw file, the largest first
     * @param list<int|null> $shown  long edges of the medium one and the full one in the DNG
     */
    #[DataProvider('previews')]
    public function testADngHasAMediumAndAFullPicture(array $edges, array $shown): void
    {
        $jpegs = array_map(static function (int $edge): string {
            $picture = imagecreatetruecolor(max(1, $edge), max(1, intdiv($edge * 2, 3)));
            self::assertInstanceOf(\GdImage::class, $picture);
            ob_start();
            imagejpeg($picture, null, 30);

            return (string) ob_get_clean();
        }, $edges);
        $previews = Previews::of($jpegs);
        self::assertSame(
            $shown,
            array_map(
                static fn (?string $jpeg): ?int => null === $jpeg ? null : getimagesizefromstring($jpeg)[0] ?? null,
                [$previews->medium, $previews->full],
            ),
        );
    }

    /** @return iterable<string, array{list<int>, list<int|null>}> */
    public static function previews(): iterable
    {
        yield 'both are there, and a thumbnail' => [[3000, 1620, 160], [1620, 3000]];
        yield 'only the full one' => [[3000, 160], [1280, 3000]];
        yield 'only a medium one' => [[1024, 160], [1024, null]];
        yield 'only small ones' => [[320, 160], [320, null]];
        yield 'none' => [[], [null, null]];
    }

    public function testWhatIsNoPictureIsLeftOut(): void
    {
        self::assertNull(Previews::of(["\xFF\xD8\xFF\xE0 no picture"])->medium);
    }

    public function testSeveralCoresMakeTheSameAndFindWhatDiffers(): void
    {
        $raw = $this->raw(
            601,
            1100,
            14,
            self::BAYER,
            true,
            array_map(static fn (int $n): int => crc32((string) $n) & 0x3FFF, range(1, 601 * 1100)),
        );
        $one = Conversion::of($raw, $this->folder.'/one.dng');
        $three = Conversion::of($raw, $this->folder.'/three.dng', cores: 3);
        self::assertSame($one->digest->hex, $three->digest->hex);
        $image = RawFile::open(FileBytes::open($raw))->image();
        $dng = RawFile::open(FileBytes::open($this->folder.'/three.dng'));
        self::assertNull($dng->differsFrom($image));
        foreach ([0, 601 * 540 + 3, 601 * 1100 - 1] as $place) {
            $other = $dng->image();
            $changed = new RawImage(
                601,
                1100,
                substr_replace($other->samples, pack('v', 0x4000), 2 * $place, 2),
                14,
                1,
                self::BAYER,
                2,
                [0],
                16383,
            );
            self::assertSame($place, $dng->differsFrom($changed));
            self::assertSame(
                [$place],
                array_values(
                    array_filter(
                        array_map(
                            static fn (int $part): ?int => $dng->differsFrom($changed, max(0, $part), 3),
                            [0, 1, 2],
                        ),
                        is_int(...),
                    ),
                ),
            );
        }
    }

    public function testWhatAPartOfTheWorkThrowsIsThrown(): void
    {
        self::assertSame(
            ['first', str_repeat('x', 3_000_000), ''],
            SideBySide::of(
                [
                    static fn (): string => 'first',
                    static fn (): string => str_repeat('x', 3_000_000),
                    static fn (): string => '',
                ],
            ),
        );
        $this->expectExceptionMessage('it cannot be read: by the second');
        $this->expectException(DngRefused::class);
        SideBySide::of(
            [static fn (): string => 'first', static fn (): string => throw DngRefused::structure('by the second')],
        );
    }

    public function testTheRawFileItselfGoesInAndComesOutAgain(): void
    {
        $raw = $this->raw(
            96,
            64,
            14,
            self::BAYER,
            true,
            array_map(static fn (int $n): int => crc32((string) $n) & 0x3FFF, range(1, 96 * 64)),
        );
        $dng = $this->folder.'/out.dng';
        Conversion::of($raw, $dng, true);
        $embedded = TiffFields::of(FileBytes::open($dng))->directory(
            TiffFields::of(FileBytes::open($dng))->first(),
        )[0][RawTag::ORIGINAL_DATA][1];
        self::assertSame(sha1_file($raw), sha1(EmbeddedOriginal::extract($embedded)));
        // exiftool knows the way back, too
        self::assertSame(
            sha1_file($raw),
            sha1((string) shell_exec('exiftool -b -OriginalRawImage '.escapeshellarg($dng))),
        );
        self::assertSame(
            md5($embedded),
            strtolower(
                (string) preg_replace(
                    '/\s/',
                    '',
                    (string) shell_exec('exiftool -s3 -OriginalRawFileDigest '.escapeshellarg($dng)),
                ),
            ),
        );
    }

    public function testADngOfAnotherIsReadAndItsColoursAreKept(): void
    {
        $raw = $this->raw(
            96,
            64,
            12,
            self::BAYER,
            true,
            array_map(static fn (int $n): int => crc32((string) $n) & 0xFFF, range(1, 96 * 64)),
            [
                RawTag::COLOR_MATRIX_1 => [
                    TiffWriter::SIGNED_RATIONAL,
                    array_merge(...array_map(static fn (int $n): array => [$n * 100, 10000], range(1, 9))),
                ],
                RawTag::AS_SHOT_NEUTRAL => [TiffWriter::RATIONAL, [5, 10, 1, 1, 7, 10]],
                RawTag::UNIQUE_CAMERA_MODEL => [TiffWriter::ASCII, 'Tarn Heron 5 of another name'],
            ],
        );
        $dng = $this->folder.'/out.dng';
        Conversion::of($raw, $dng);
        self::assertSame(
            'Tarn Heron 5 of another name',
            trim((string) shell_exec('exiftool -s3 -UniqueCameraModel '.escapeshellarg($dng))),
        );
        self::assertSame(
            '0.01 0.02 0.03 0.04 0.05 0.06 0.07 0.08 0.09',
            trim((string) shell_exec('exiftool -s3 -ColorMatrix1 '.escapeshellarg($dng))),
        );
        self::assertSame('0.5 1 0.7', trim((string) shell_exec('exiftool -s3 -AsShotNeutral '.escapeshellarg($dng))));
    }

    public function testWhatADngSaysOfItsRawImageHoldsForOursToo(): void
    {
        $raw = $this->raw(96, 64, 16, self::BAYER, true, array_map(
            static fn (int $n): int => crc32((string) $n) & 0xFFF,
            range(1, 96 * 64),
        ), [
            RawTag::VERSION => [TiffWriter::BYTE, [1, 4, 0, 0]],
            51109 => [TiffWriter::SIGNED_RATIONAL, [1, 4]],
        ], [
            50712 => [TiffWriter::SHORT, range(0, 4095)], RawTag::BLACK_REPEAT => [TiffWriter::SHORT, [2, 2]],
            RawTag::BLACK_LEVEL => [TiffWriter::RATIONAL, [1025, 2, 513, 1, 514, 1, 515, 1]],
            50715 => [TiffWriter::SIGNED_RATIONAL, array_merge(...array_fill(0, 88, [1, 8]))],
            50716 => [TiffWriter::SIGNED_RATIONAL, array_merge(...array_fill(0, 60, [-1 & 0xFFFFFFFF, 4]))],
            RawTag::WHITE_LEVEL => [TiffWriter::SHORT, 4000],
            RawTag::ACTIVE_AREA => [TiffWriter::LONG, [4, 8, 64, 96]],
            RawTag::MASKED_AREAS => [TiffWriter::LONG, [4, 0, 64, 8]],
            RawTag::CROP_ORIGIN => [TiffWriter::LONG, [2, 2]], RawTag::CROP_SIZE => [TiffWriter::LONG, [80, 50]],
            50738 => [TiffWriter::RATIONAL, [1, 2]],
        ]);
        $dng = $this->folder.'/out.dng';
        Conversion::of($raw, $dng);
        $tags = [
            'LinearizationTable', 'BlackLevelRepeatDim', 'BlackLevel', 'BlackLevelDeltaH', 'BlackLevelDeltaV',
            'WhiteLevel', 'ActiveArea', 'MaskedAreas', 'DefaultCropOrigin', 'DefaultCropSize', 'AntiAliasStrength',
            'BaselineExposureOffset',
        ];
        $of = static fn (string $path): string => (string) shell_exec(
            'exiftool -s -n -'.implode(' -', $tags).' '.escapeshellarg($path),
        );
        self::assertSame(\count($tags), substr_count($of($raw), "\n"));
        self::assertSame($of($raw), $of($dng));
    }

    /**
     * Developed with the simplest interpolation, which decides nothing by a hair's breadth.
     *
     * @param array<int, array{int, mixed}> $colours
     */
    #[DataProvider('colours')]
    public function testTheDevelopedColoursAgree(array $colours, int $most): void
    {
        $raw = $this->raw(
            96,
            64,
            16,
            self::BAYER,
            true,
            array_map(static fn (int $n): int => ($n * 131 % 9000) + 512, range(1, 96 * 64)),
            $colours,
        );
        Conversion::of($raw, $this->folder.'/out.dng');
        exec('cd '.escapeshellarg($this->folder).' && dcraw_emu -q 0 -T T0001.TRW out.dng');
        [$before, $after] = array_map(
            fn (string $name): array => array_map(
                ord(...),
                str_split(substr((string) file_get_contents($this->folder.'/'.$name), -3 * 96 * 64)),
            ),
            ['T0001.TRW.tiff', 'out.dng.tiff'],
        );
        self::assertCount(3 * 96 * 64, $before);
        self::assertLessThanOrEqual(
            $most,
            max(array_map(static fn (int $a, int $b): int => abs($a - $b), $before, $after)),
        );
    }

    /**
     * @return iterable<string, array{array<int, array{int, mixed}>, int}> colours of the source, and the most that a
     *     value of 8 bits may differ
     */
    public static function colours(): iterable
    {
        $matrix = [
            6988,
            -1384 & 0xFFFFFFFF,
            -714 & 0xFFFFFFFF,
            -5631 & 0xFFFFFFFF,
            13410,
            2447,
            -1485 & 0xFFFFFFFF,
            2204,
            7318,
        ];
        yield 'measured' => [
            [
                RawTag::VERSION => [TiffWriter::BYTE, [1, 4, 0, 0]],
                RawTag::COLOR_MATRIX_1 => [
                    TiffWriter::SIGNED_RATIONAL,
                    array_merge(...array_map(static fn (int $n): array => [$n, 10000], $matrix)),
                ],
                RawTag::ILLUMINANT_1 => [TiffWriter::SHORT, 21],
                RawTag::AS_SHOT_NEUTRAL => [TiffWriter::RATIONAL, [5, 10, 1, 1, 7, 10]],
            ],
            0,
        ];
        yield 'unmeasured' => [[], 1];
    }

    /** @param list<int>|null $size */
    #[DataProvider('unfit')]
    public function testWhatCannotBeConvertedIsRefusedAndNothingIsLeft(
        string $content,
        ?array $size,
        string $reason,
    ): void {
        $raw = $this->raw(96, 64, 14, self::BAYER, true, array_fill(0, 96 * 64, 700));
        if ('' !== $content) {
            file_put_contents($raw, $content);
        } elseif (null === $size) {
            file_put_contents($raw, substr((string) file_get_contents($raw), 0, -4000));
        } else {
            $bytes = (string) file_get_contents($raw);
            $at = strrpos($bytes, pack('vvVV', RawTag::WIDTH, TiffWriter::LONG, 1, 96));
            self::assertIsInt($at);
            file_put_contents($raw, substr_replace($bytes, pack('V', $size[0]), $at + 8, 4));
        }
        try {
            Conversion::of($raw, $this->folder.'/out.dng');
            self::fail('It was converted.');
        } catch (DngRefused $e) {
            self::assertStringContainsString($reason, $e->getMessage());
        }
        self::assertFileDoesNotExist($this->folder.'/out.dng');
        self::assertSame(
            [],
            array_filter(
                (array) scandir($this->folder),
                static fn (mixed $name): bool => str_contains((string) $name, 'velvet-part'),
            ),
        );
    }

    /** @return iterable<string, array{string, list<int>|null, string}> */
    public static function unfit(): iterable
    {
        yield 'a JPEG called raw' => ["\xFF\xD8\xFF\xE0 no raw file", null, 'it is no TIFF structure'];
        yield 'of an unknown maker' => ['MAKERRAW'.str_repeat("\0", 400), null, 'it is no TIFF structure'];
        yield 'empty' => [' ', null, 'it is no TIFF structure'];
        yield 'cut short' => ['', null, 'it cannot be read'];
        yield 'an absurd width' => ['', [4_000_000_000], 'which no camera has'];
        yield 'no width' => ['', [0], 'there are no samples'];
    }

    public function testBrokenDngsAreRefusedAndNeverCrash(): void
    {
        $raw = $this->raw(
            60,
            44,
            12,
            self::BAYER,
            true,
            array_map(static fn (int $n): int => $n * 7 & 0xFFF, range(1, 60 * 44)),
        );
        Conversion::of($raw, $this->folder.'/out.dng');
        $files = [(string) file_get_contents($raw), (string) file_get_contents($this->folder.'/out.dng')];
        mt_srand(417);
        $path = $this->folder.'/broken';
        $refused = 0;
        for ($n = 0; $n < 20_000; ++$n) {
            $broken = $files[$n & 1];
            // the samples matter least: mostly the directories are hit
            for ($k = mt_rand(1, 6); $k > 0; --$k) {
                $at = 0 === mt_rand(0, 3)
                    ? mt_rand(0, \strlen($broken) - 1)
                    : mt_rand(max(0, \strlen($broken) - 1100), \strlen($broken) - 1);
                $broken[$at] = 0 === mt_rand(0, 2) ? "\xFF" : \chr(mt_rand(0, 255));
            }
            file_put_contents($path, 0 === $n % 5 ? substr($broken, 0, mt_rand(0, \strlen($broken))) : $broken);
            try {
                RawFile::open(FileBytes::open($path))->image();
            } catch (DngRefused|FileUnreadable) {
                ++$refused;
            }
        }
        self::assertGreaterThan(5000, $refused);
        self::assertLessThan(400 * 1024 * 1024, memory_get_peak_usage(true));
    }

    /**
     * A raw file of an invented camera (TIFF/EP), with Exif and a preview.
     *
     * @param list<int>                     $pattern
     * @param list<int>                     $samples
     * @param array<int, array{int, mixed}> $more    fields of its first directory
     * @param array<int, array{int, mixed}> $ofImage of that of its raw image
     */
    private function raw(
        int $width,
        int $height,
        int $bits,
        array $pattern,
        bool $littleEndian,
        array $samples,
        array $more = [],
        array $ofImage = [],
    ): string {
        $side = 4 === \count($pattern) ? 2 : 6;
        $tiff = new TiffWriter($littleEndian);
        $data = $tiff->data(self::packed($samples, $width, $bits, $littleEndian));
        $length = $bits < 16 ? $height * intdiv($width * $bits + 7, 8) : 2 * \count($samples);
        $image = $tiff->directory($ofImage + [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 0], RawTag::WIDTH => [TiffWriter::LONG, $width],
            RawTag::LENGTH => [TiffWriter::LONG, $height], RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, $bits],
            RawTag::COMPRESSION => [TiffWriter::SHORT, 1], RawTag::PHOTOMETRIC => [TiffWriter::SHORT, 32803],
            RawTag::STRIP_OFFSETS => [TiffWriter::LONG, $data], RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, 1],
            RawTag::ROWS_PER_STRIP => [TiffWriter::LONG, $height],
            RawTag::STRIP_BYTE_COUNTS => [TiffWriter::LONG, $length],
            RawTag::CFA_REPEAT => [TiffWriter::SHORT, [$side, $side]],
            RawTag::CFA_PATTERN => [TiffWriter::BYTE, $pattern],
        ]);
        $picture = imagecreatetruecolor(48, 32);
        self::assertInstanceOf(\GdImage::class, $picture);
        ob_start();
        imagejpeg($picture);
        $jpeg = (string) ob_get_clean();
        $exif = $tiff->directory(
            [
                0x829A => [TiffWriter::RATIONAL, [1, 250]],
                0x829D => [TiffWriter::RATIONAL, [28, 10]],
                0x8827 => [TiffWriter::SHORT, 800],
                0x9000 => [TiffWriter::UNDEFINED, '0232'],
                0x9003 => [TiffWriter::ASCII, '2026:05:02 19:31:40'],
                0x9101 => [TiffWriter::UNDEFINED, "\1\2\3\0"],
                0x9204 => [TiffWriter::SIGNED_RATIONAL, [-1 & 0xFFFFFFFF, 3]],
                0xA431 => [TiffWriter::ASCII, 'TO5-204417'],
                0xA434 => [TiffWriter::ASCII, 'Tarn 24-70mm F2.8'],
            ],
        );
        $first = $tiff->directory($more + [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 1], RawTag::WIDTH => [TiffWriter::LONG, 48],
            RawTag::LENGTH => [TiffWriter::LONG, 32], RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, [8, 8, 8]],
            RawTag::COMPRESSION => [TiffWriter::SHORT, 7],
            RawTag::PHOTOMETRIC => [TiffWriter::SHORT, 6], RawTag::MAKE => [TiffWriter::ASCII, 'Tarn Optical'],
            RawTag::MODEL => [TiffWriter::ASCII, 'Heron 5'],
            RawTag::STRIP_OFFSETS => [TiffWriter::LONG, $tiff->data($jpeg)],
            RawTag::ORIENTATION => [TiffWriter::SHORT, 6],
            RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, 3], RawTag::ROWS_PER_STRIP => [TiffWriter::LONG, 32],
            RawTag::STRIP_BYTE_COUNTS => [TiffWriter::LONG, \strlen($jpeg)], 282 => [TiffWriter::RATIONAL, [300, 1]],
            283 => [TiffWriter::RATIONAL, [300, 1]], 296 => [TiffWriter::SHORT, 2],
            RawTag::SUB_IFDS => [TiffWriter::LONG, $image], RawTag::EXIF_IFD => [TiffWriter::LONG, $exif],
            0x9216 => [TiffWriter::BYTE, [1, 0, 0, 0]],
        ]);

        return $this->file('T0001.TRW', $tiff->finished($first));
    }

    /** @param list<int> $samples */
    private static function packed(array $samples, int $width, int $bits, bool $littleEndian): string
    {
        if (16 === $bits) {
            return pack($littleEndian ? 'v*' : 'n*', ...$samples);
        }
        $packed = '';
        foreach (array_chunk($samples, max(1, $width)) as $row) {
            $text = implode(
                '',
                array_map(static fn (int $sample): string => str_pad(decbin($sample), $bits, '0', \STR_PAD_LEFT), $row),
            );
            $packed .= implode(
                '',
                array_map(
                    static fn (string $byte): string => \chr((int) bindec(str_pad($byte, 8, '0'))),
                    str_split($text, 8),
                ),
            );
        }

        return $packed;
    }

    /** MD5 of the samples of a PGM file. */
    public static function ofPgm(string $pgm): string
    {
        self::assertSame(1, preg_match('/^P5\s+(?:#[^\n]*\n)?(\d+)\s+(\d+)\s+(\d+)\s/', $pgm, $head), 'a PGM file');

        return md5(substr($pgm, \strlen($head[0])));
    }
}
