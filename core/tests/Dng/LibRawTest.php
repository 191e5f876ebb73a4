<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Dng;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Dng\Conversion;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\LibRaw;
use Velvet\Core\Dng\RawFile;
use Velvet\Core\Dng\RawTag;
use Velvet\Core\Tests\TemporaryFolder;

/**
 * The road through LibRaw. Raw files of makers cannot be had here: these are files without any header, which it knows
 * by their size (its own table of cameras), and DNGs, of which it must find what stands in them.
 */
final class LibRawTest extends TestCase
{
    use TemporaryFolder;

    #[DataProvider('sizes')]
    public function testFilesThatOnlyItKnowsBecomeDng(int $width, int $height, int $bytes): void
    {
        mt_srand(417);
        $content = '';
        for ($n = 0; \strlen($content) < $width * $height * $bytes; ++$n) {
            $content .= md5((string) $n, true);
        }
        $content = substr($content, 0, $width * $height * $bytes);
        $raw = $this->file('T0001.RAW', $content);
        exec('cd '.escapeshellarg($this->folder).' && unprocessed_raw -q T0001.RAW');
        $samples = self::turned(
            substr((string) file_get_contents($raw.'.pgm'), -2 * $width * $height),
        ); // PGM is big-endian
        self::assertSame(2 * $width * $height, \strlen($samples));
        self::assertTrue(2 === $bytes || chunk_split($content, 1, "\0") === $samples);
        $dng = $this->folder.'/T0001.dng';
        $conversion = Conversion::of($raw, $dng, libRaw: self::libRaw());
        self::assertSame(md5($samples), $conversion->samples);
        self::assertSame($samples, RawFile::open(FileBytes::open($dng))->image()->samples);
        self::assertSame(
            md5(self::turned($samples)),
            ConversionTest::ofPgm((string) shell_exec('dcraw -D -4 -t 0 -c '.escapeshellarg($dng))),
            'dcraw -D of the DNG',
        );
        exec('cd '.escapeshellarg($this->folder).' && exiftool -validate -warning -error -a T0001.dng', $lines);
        self::assertContains('Validate                        : OK', $lines);
    }

    /** @return iterable<string, array{int, int, int}> */
    public static function sizes(): iterable
    {
        yield '8 bits' => [1024, 768, 1];
        yield '16 bits' => [2588, 1958, 2];
    }

    public function testWithoutItTheyAreRefused(): void
    {
        $this->expectException(DngRefused::class);
        Conversion::of($this->file('T0001.RAW', str_repeat('.', 786_432)), $this->folder.'/T0001.dng');
    }

    public function testItFindsWhatWeWrote(): void
    {
        [$width, $height] = [64, 48];
        $samples = '';
        for ($n = 0; $n < $width * $height; ++$n) {
            $samples .= pack('v', crc32((string) $n) & 0x3FFF);
        }
        $raw = $this->raw($width, $height, $samples, [
            RawTag::CFA_PATTERN => [TiffWriter::BYTE, [1, 2, 0, 1]],
            RawTag::BLACK_REPEAT => [TiffWriter::SHORT, [2, 2]],
            RawTag::BLACK_LEVEL => [TiffWriter::SHORT, [510, 511, 512, 513]],
            RawTag::WHITE_LEVEL => [TiffWriter::SHORT, 15_000],
            RawTag::ACTIVE_AREA => [TiffWriter::LONG, [4, 8, 48, 64]],
        ]);
        Conversion::of($raw, $this->folder.'/out.dng');
        $image = self::libRaw()->image($this->folder.'/out.dng');
        self::assertSame(
            [$width, $height, [4, 8, 48, 64], [1, 2, 0, 1], 2, 15_000],
            [$image->width, $image->height, $image->active, $image->pattern, $image->patternWidth, $image->white],
        );
        self::assertSame([[510, 511, 512, 513], 2], [$image->black, $image->blackWidth]);
        self::assertSame($samples, $image->samples);
    }

    public function testWhatIsCutShortIsRefusedAndNotFilledUp(): void
    {
        $raw = $this->raw(64, 48, str_repeat("\x10\2", 64 * 48));
        file_put_contents($raw, substr((string) file_get_contents($raw), 0, -2000));
        $this->expectException(DngRefused::class);
        $this->expectExceptionMessage('it is cut short, or damaged');
        self::libRaw()->image($raw);
    }

    /**
     * A raw file (RW2) whose decoder goes on behind the file's end, with whatever lies in memory: whole, halved, and
     * with 22 bytes of it left. Its layout as LibRaw reads it, from memory.
     */
    public function testSamplesThatAreNotInTheFileAreNoSamples(): void
    {
        [$width, $height] = [1008, 756];
        $blocks = (int) ceil($width * $height / 14 * 16 / 0x4000);
        $data = '';
        for ($n = 0; \strlen($data) < $blocks * 0x4000; ++$n) {
            // small steps, so that no value grows too large
            $data .= hash('sha512', (string) $n, true) & str_repeat("\1", 64);
        }
        $whole = self::rw2($width, $height, $data);
        $image = self::libRaw()->image($this->file('whole.rw2', $whole));
        self::assertSame(
            [$width, $height, 2 * $width * $height],
            [$image->width, $image->height, \strlen($image->samples)],
        );
        self::assertGreaterThan(50, \count(array_unique(str_split($image->samples, 2))));
        foreach ([
            'halved.rw2' => intdiv(\strlen($whole), 2),
            'no-data.rw2' => \strlen($whole) - \strlen($data) + 22,
        ] as $name => $bytes) {
            $raw = $this->file($name, substr($whole, 0, $bytes));
            try {
                Conversion::of($raw, $raw.'.dng', libRaw: self::libRaw());
                self::fail($name.' is not whole.');
            } catch (DngRefused $e) {
                self::assertStringContainsString('it is cut short, or damaged', $e->getMessage());
                self::assertFileDoesNotExist($raw.'.dng');
            }
            try {
                self::libRaw()->image($raw);
                self::fail($name.' is not whole, and LibRaw alone finds it.');
            } catch (DngRefused $e) {
                self::assertStringContainsString('it is cut short, or damaged', $e->getMessage());
            }
        }
    }

    /** The bits of libraw_const.h of 0.20. */
    public function testWhatItSaysAgainstItsOwnSamplesCounts(): void
    {
        self::assertTrue(LibRaw::saysThatAllWasRead(0b1111, 0));
        self::assertTrue(LibRaw::saysThatAllWasRead(0b1111, 1 << 2), 'LIBRAW_WARN_BAD_CAMERA_WB');
        self::assertFalse(LibRaw::saysThatAllWasRead(0b0111, 0), 'LIBRAW_PROGRESS_LOAD_RAW is missing');
        foreach ([
            'NO_METADATA' => 3,
            'NO_JPEGLIB' => 4,
            'NO_JASPER' => 11,
            'RAWSPEED_PROBLEM' => 12,
        ] as $name => $bit) {
            self::assertFalse(LibRaw::saysThatAllWasRead(0b1111, 1 << $bit), 'LIBRAW_WARN_'.$name);
        }
    }

    public function testAJpegIsNoRawFile(): void
    {
        $this->expectExceptionMessage('LibRaw says, unsupported file format or not RAW file');
        $this->expectException(DngRefused::class);
        self::libRaw()->image($this->file('T0001.NEF', "\xFF\xD8\xFF\xE0".str_repeat('.', 3000)));
    }

    /**
     * A DNG with its directory first and its samples last.
     *
     * @param array<int, array{int, mixed}> $more
     */
    private function raw(int $width, int $height, string $samples, array $more = []): string
    {
        $at = 2048;
        $tiff = new TiffWriter();
        $first = $tiff->directory($more + [
            RawTag::NEW_SUBFILE_TYPE => [TiffWriter::LONG, 0], RawTag::WIDTH => [TiffWriter::LONG, $width],
            RawTag::LENGTH => [TiffWriter::LONG, $height], RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, 16],
            RawTag::COMPRESSION => [TiffWriter::SHORT, 1],
            RawTag::PHOTOMETRIC => [TiffWriter::SHORT, 32803], RawTag::MAKE => [TiffWriter::ASCII, 'Tarn Optical'],
            RawTag::MODEL => [TiffWriter::ASCII, 'Heron 5'], RawTag::STRIP_OFFSETS => [TiffWriter::LONG, $at],
            RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, 1],
            RawTag::ROWS_PER_STRIP => [TiffWriter::LONG, $height],
            RawTag::STRIP_BYTE_COUNTS => [TiffWriter::LONG, \strlen($samples)],
            RawTag::CFA_REPEAT => [TiffWriter::SHORT, [2, 2]], RawTag::CFA_PATTERN => [TiffWriter::BYTE, [0, 1, 1, 2]],
            RawTag::VERSION => [TiffWriter::BYTE, [1, 4, 0, 0]],
            RawTag::UNIQUE_CAMERA_MODEL => [TiffWriter::ASCII, 'Tarn Optical Heron 5'],
        ]);

        return $this->file('T0001.dng', str_pad($tiff->finished($first), $at, "\0").$samples);
    }

    private static function rw2(int $width, int $height, string $data): string
    {
        [$fields, $texts] = [
            [
                [0x01, 7, 4, 0x30313330], [0x02, 3, 1, $width], [0x03, 3, 1, $height], [0x04, 3, 1, 0], [0x05, 3, 1, 0],
                [0x06, 3, 1, $height], [0x07, 3, 1, $width], [0x09, 3, 1, 1], [0x17, 3, 1, 100],
                [0x10F, 2, 10, 1024], [0x110, 2, 8, 1040], [0x111, 4, 1, 2048], [0x117, 4, 1, \strlen($data)],
                [0x118, 4, 1, 2048],
            ],
            "Panasonic\0\0\0\0\0\0\0DMC-GX1\0",
        ];
        $directory = implode('', array_map(static fn (array $field): string => pack('vvVV', ...$field), $fields));

        return str_pad(
            str_pad("IIU\0".pack('Vv', 8, \count($fields)).$directory.pack('V', 0), 1024, "\0").$texts,
            2048,
            "\0",
        ).$data;
    }

    private static function libRaw(): LibRaw
    {
        return LibRaw::load() ?? self::fail('LibRaw is not installed.');
    }

    private static function turned(string $samples): string
    {
        return implode(
            '',
            array_map(
                static fn (string $part): string => pack(
                    'v*',
                    ...array_filter((array) unpack('n*', $part), is_int(...)),
                ),
                str_split($samples, 1 << 16),
            ),
        );
    }
}
