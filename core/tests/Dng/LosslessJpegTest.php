<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Dng;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\HuffmanCode;
use Velvet\Core\Dng\LosslessJpegDecoder;
use Velvet\Core\Dng\LosslessJpegEncoder;

final class LosslessJpegTest extends TestCase
{
    use TestTrait;

    /** ITU-T T.81, Table K.3: the typical code for luminance DC differences (from memory). */
    public function testCodesAreAssignedAsTheStandardDoes(): void
    {
        $code = HuffmanCode::of([0, 1, 5, 1, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0], range(0, 11));
        $said = [];
        foreach ($code->codes as $category => $bits) {
            $said[$category] = str_pad(decbin($bits), $code->lengths[$category], '0', \STR_PAD_LEFT);
        }
        self::assertSame(
            ['00', '010', '011', '100', '101', '110', '1110', '11110', '111110', '1111110', '11111110', '111111110'],
            $said,
        );
    }

    public function testTheShortestCodeIsPrefixFreeAndKeepsTheCodeOfOnesFree(): void
    {
        $this->forAll(
            Generators::seq(Generators::choose(1, 1_000_000)),
        )->then(static function (array $frequencies): void {
            $frequencies = [1, ...array_values(array_filter(\array_slice($frequencies, 0, 16), is_int(...)))];
            $code = HuffmanCode::shortest($frequencies);
            self::assertCount(\count($frequencies), $code->lengths);
            self::assertLessThanOrEqual(16, max([0, ...$code->lengths]));
            $sum = array_sum(array_map(static fn (int $length): float => 2.0 ** -$length, $code->lengths));
            self::assertLessThan(1.0, $sum, 'a code is left over: that of ones only');
            foreach ($code->codes as $category => $bits) {
                self::assertNotSame((1 << $code->lengths[$category]) - 1, $bits);
            }
        });
    }

    public function testVeryUnevenFrequenciesKeepToSixteenBits(): void
    {
        $code = HuffmanCode::shortest(array_map(static fn (int $n): int => 1 << $n, range(0, 16)));
        self::assertSame(16, max([0, ...$code->lengths]));
        self::assertSame(17, array_sum($code->counts));
    }

    /**
     * T.81, H.1.2.1: by hand for two rows of 8 bits with predictor 1: 128 is before the first sample, the first of the
     * second row is predicted from above; Table H.2: categories 1 (value 1), 1 (-1), 0 and 3 (5).
     */
    public function testTheDifferencesOfTheStandard(): void
    {
        $jpeg = (new LosslessJpegEncoder())->encode([pack('v*', 129, 128, 128), pack('v*', 134, 134, 134)], 1, 8, 1);
        $at = (int) strpos($jpeg, "\xFF\xC4");
        $values = substr($jpeg, $at + 5 + 16, 3);
        // 0 comes three times, 1 twice, 3 once: codes 0, 10, 110; then 10 1 | 10 0 | 0 | 110 101 | 0 | 0, filled up
        // with ones
        self::assertSame("\0\1\3", $values);
        $bits = implode(
            '',
            array_map(
                static fn (string $byte): string => str_pad(decbin(\ord($byte)), 8, '0', \STR_PAD_LEFT),
                str_split(substr($jpeg, (int) strpos($jpeg, "\xFF\xDA") + 10, -2)),
            ),
        );
        self::assertSame('1011000110101001', $bits);
    }

    #[DataProvider('pictures')]
    public function testEverySampleComesBack(
        int $components,
        int $width,
        int $lines,
        int $precision,
        \Closure $sample,
    ): void {
        $rows = [];
        for ($y = 0; $y < $lines; ++$y) {
            $row = [];
            for ($x = 0; $x < $width * $components; ++$x) {
                $value = $sample($x, $y);
                self::assertIsInt($value);
                $row[] = $value;
            }
            $rows[] = pack('v*', ...$row);
        }
        \assert([] !== $rows);
        $encoder = new LosslessJpegEncoder();
        for ($predictor = 1; $predictor <= 7; ++$predictor) {
            $jpeg = $encoder->encode($rows, $components, $precision, $predictor);
            self::assertSame(
                [$rows, $components, $precision],
                (new LosslessJpegDecoder())->decode($jpeg),
                "predictor $predictor",
            );
            $cost = $encoder->cost($rows, $components, $precision, $predictor);
            $data = str_replace(
                "\xFF\0",
                "\xFF",
                substr($jpeg, (int) strpos($jpeg, "\xFF\xDA") + 8 + 2 * $components, -2),
            );
            self::assertSame(intdiv($cost + 7, 8), \strlen($data), 'what was reckoned is what was written');
        }
    }

    /**
     * Of longer images, as tiles are, some rows tell the code, and four samples are written at a time: all predictors
     * as by the formulas of T.81, Table H.1.
     */
    #[DataProvider('longOnes')]
    public function testLongImagesOfPairsComeBackTheSame(int $precision, \Closure $sample): void
    {
        $rows = [];
        for ($y = 0; $y < 150; ++$y) {
            $row = [];
            for ($x = 0; $x < 48; ++$x) {
                $value = $sample($x, $y);
                self::assertIsInt($value);
                $row[] = $value;
            }
            $rows[] = pack('v*', ...$row);
        }
        \assert([] !== $rows);
        for ($predictor = 1; $predictor <= 7; ++$predictor) {
            $encoder = new LosslessJpegEncoder();
            $jpeg = $encoder->encode($rows, 2, $precision, $predictor);
            self::assertSame(
                [$rows, 2, $precision],
                (new LosslessJpegDecoder())->decode($jpeg),
                "predictor $predictor",
            );
            $cost = intdiv($encoder->cost($rows, 2, $precision, $predictor), 8);
            self::assertLessThan(1.1 * $cost + 400, \strlen($jpeg), 'hardly longer than with the shortest code');
        }
    }

    /** @return iterable<string, array{int, \Closure(int, int): int}> */
    public static function longOnes(): iterable
    {
        yield 'a slope with noise' => [
            14,
            static fn (int $x, int $y): int => (3000 + $x * 13 + $y * 29 + (crc32("$x,$y") & 127)) & 0x3FFF,
        ];
        yield 'noise of 14 bits, of which predictions are twice as large as a sample' => [
            14,
            static fn (int $x, int $y): int => crc32("$x $y") & 0x3FFF,
        ];
        yield 'noise of 16 bits' => [16, static fn (int $x, int $y): int => crc32("$x $y") & 0xFFFF];
        yield 'black and white' => [16, static fn (int $x, int $y): int => 0 === (crc32("$x $y") & 1) ? 0 : 65535];
        yield 'constant' => [8, static fn (): int => 255];
        yield 'what comes only where nobody looked' => [
            12,
            static fn (int $x, int $y): int => 77 === $y ? 4095 - $x : 12,
        ];
    }

    /** @return iterable<string, array{int, int, int, int, \Closure(int, int): int}> */
    public static function pictures(): iterable
    {
        mt_srand(417);
        foreach ([1, 2, 3, 4] as $components) {
            foreach ([[1, 1], [4, 3], [5, 2], [16, 9], [31, 5]] as [$width, $lines]) {
                yield "$components x $width x $lines, a slope of 12 bits" => [
                    $components,
                    $width,
                    $lines,
                    12,
                    static fn (int $x, int $y): int => ($x * 37 + $y * 101) & 0xFFF,
                ];
                yield "$components x $width x $lines, noise of 16 bits" => [
                    $components,
                    $width,
                    $lines,
                    16,
                    static fn (int $x, int $y): int => crc32("$x $y") & 0xFFFF,
                ];
            }
        }
        yield 'constant' => [2, 24, 12, 14, static fn (): int => 8191];
        yield 'all black' => [2, 24, 12, 8, static fn (): int => 0];
        yield 'extremes, whose differences are of category 16' => [
            2,
            24,
            12,
            16,
            static fn (int $x, int $y): int => 0 === ($x >> 1 & 1 ^ $y & 1) ? 0 : 32768,
        ];
        yield 'black and white' => [
            2,
            24,
            12,
            16,
            static fn (int $x, int $y): int => 0 === ($x >> 1 & 1 ^ $y & 1) ? 0 : 65535,
        ];
        yield '8 bits' => [3, 20, 7, 8, static fn (int $x, int $y): int => ($x * 11 ^ $y * 7) & 0xFF];
    }

    /**
     * jpeg-lossless-decoder-js from npm, an independent decoder. It looks beyond the data for its very last sample, so
     * the last row is not compared.
     */
    #[DataProvider('predictors')]
    public function testAnotherDecoderReadsTheSame(int $predictor): void
    {
        $rows = [];
        for ($y = 0; $y < 40; ++$y) {
            $rows[] = pack(
                'v*',
                ...array_map(
                    static fn (int $x): int => (3000 + $x * 13 + $y * 29 + (crc32("$x,$y") & 127)) & 0x3FFF,
                    range(0, 63),
                ),
            );
        }
        \assert([] !== $rows);
        $file = tempnam(sys_get_temp_dir(), 'lossless');
        self::assertIsString($file);
        file_put_contents($file, (new LosslessJpegEncoder())->encode($rows, 1, 14, $predictor));
        $script = <<<'JS'
            const { Decoder } = require('jpeg-lossless-decoder-js')
            const bytes = require('fs').readFileSync(process.argv[1])
            const samples = new Decoder().decompress(bytes.buffer, bytes.byteOffset, bytes.length)
            process.stdout.write(Buffer.from(samples))
            JS;
        $process = proc_open(
            ['node', '-e', $script, $file],
            [1 => ['pipe', 'w'], 2 => ['pipe', 'w']],
            $pipes,
            \dirname(__DIR__, 3).'/web',
        );
        self::assertIsResource($process);
        [$theirs, $errors] = [stream_get_contents($pipes[1]), stream_get_contents($pipes[2])];
        proc_close($process);
        unlink($file);
        self::assertSame('', $errors);
        self::assertSame(md5(implode('', \array_slice($rows, 0, -1))), md5(substr((string) $theirs, 0, 39 * 128)));
    }

    /** @return iterable<array{int}> */
    public static function predictors(): iterable
    {
        for ($predictor = 1; $predictor <= 7; ++$predictor) {
            yield [$predictor];
        }
    }

    public function testBrokenJpegsAreRefusedAndNeverCrash(): void
    {
        $rows = [];
        for ($y = 0; $y < 12; ++$y) {
            $rows[] = pack('v*', ...array_map(static fn (int $x): int => crc32("$x $y") & 0xFFF, range(0, 23)));
        }
        \assert([] !== $rows);
        $jpeg = (new LosslessJpegEncoder())->encode($rows, 2, 12, 7);
        mt_srand(417);
        $decoder = new LosslessJpegDecoder();
        $refused = 0;
        for ($n = 0; $n < 4000; ++$n) {
            $broken = $jpeg;
            for ($k = mt_rand(1, 4); $k > 0; --$k) {
                $broken[mt_rand(0, \strlen($jpeg) - 1)] = \chr(mt_rand(0, 255));
            }
            try {
                $decoder->decode(0 === $n % 3 ? substr($broken, 0, mt_rand(0, \strlen($jpeg))) : $broken);
            } catch (DngRefused) {
                ++$refused;
            }
        }
        self::assertGreaterThan(1000, $refused);
    }
}
