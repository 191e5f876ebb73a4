<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Dng\RawFile;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/** A raw file of 24 megapixels: the entropy coder, the size, and the whole conversion beside LibRaw's programs. */
final class DngBench implements Bench
{
    private const WIDTH = 6000;
    private const HEIGHT = 4000;
    private const PHP = 'php -d memory_limit=2G -d opcache.enable_cli=1 -d opcache.jit=tracing '
        .'-d opcache.jit_buffer_size=64M ';

    public function run(string $folder): iterable
    {
        $raw = $folder.'/raw.trw';
        $picture = Picture::perlin(self::WIDTH, self::HEIGHT, 300, 1)->times(100, 128);
        file_put_contents(
            $raw,
            self::grainy(
                FrameFiles::raw(
                    $picture->join($picture)->join($picture)->finished(),
                    new Exposure(
                        new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA'),
                        '2026:05:02 19:31:40',
                        1,
                        [1, 250],
                        [28, 10],
                        800,
                        50,
                    ),
                ),
            ),
        );
        $part = self::PHP.escapeshellarg(\dirname(__DIR__).'/dng-part.php');
        $encode = $part.' encode '.escapeshellarg($raw);
        $one = self::said((string) shell_exec($encode));
        yield \sprintf(
            'encoder, one core: %.1f million samples/s (%.2f s for %.1f million, predictor %d)',
            $one['samples'] / $one['seconds'] / 1e6,
            $one['seconds'],
            $one['samples'] / 1e6,
            $one['predictor'],
        );
        exec('('.$encode.' & '.$encode.' & wait)', $lines);
        $both = array_map(self::said(...), $lines);
        yield \sprintf(
            'encoder, two cores: %.1f million samples/s',
            array_sum(array_map(static fn (array $said): float => $said['samples'] / $said['seconds'], $both)) / 1e6,
        );
        $samples = RawFile::open(FileBytes::open($raw))->image()->samples;
        $differences = self::differences($samples);
        $deflated = \strlen((string) gzcompress($differences, 6));
        file_put_contents($folder.'/samples', $samples);
        $xz = (int) shell_exec('xz -6 -T1 -c '.escapeshellarg($folder.'/samples').' | wc -c');
        yield \sprintf(
            'size: %.1f MB of %.1f MB (%.3f), deflate of the differences %.1f MB (ours %.3f of it), xz of the '
                .'samples %.1f MB (ours %.3f of it)',
            $one['bytes'] / 1e6,
            \strlen($samples) / 1e6,
            $one['bytes'] / \strlen($samples),
            $deflated / 1e6,
            $one['bytes'] / $deflated,
            $xz / 1e6,
            $one['bytes'] / $xz,
        );
        unset($samples, $differences);
        $convert = static fn (string $to, string $from = ''): string => \sprintf(
            '%s convert %s %s',
            $part,
            escapeshellarg('' === $from ? $raw : $folder.'/'.$from),
            escapeshellarg($folder.'/'.$to),
        );
        $ours = Timed::shell('taskset -c 0 '.$convert('one.dng'));
        $developed = Timed::shell('taskset -c 0 dcraw_emu -T '.escapeshellarg($raw));
        yield \sprintf(
            'whole conversion with its proof, one file on one core: ours %.2f s, dcraw_emu -T %.2f s, ratio %.2f',
            $ours,
            $developed,
            $developed / $ours,
        );
        $ours = Timed::shell($convert('out.dng').' 2');
        $unprocessed = Timed::shell('unprocessed_raw -q -T '.escapeshellarg($raw));
        yield \sprintf(
            'whole conversion with its proof, one file on two cores: ours %.2f s, unprocessed_raw -T %.2f s, ratio '
                .'%.2f',
            $ours,
            $unprocessed,
            $unprocessed / $ours,
        );
        $developed = Timed::shell('dcraw_emu -T '.escapeshellarg($raw));
        yield \sprintf(
            'whole conversion with its proof, one file on two cores: ours %.2f s, dcraw_emu -T %.2f s, ratio %.2f',
            $ours,
            $developed,
            $developed / $ours,
        );
        copy($raw, $folder.'/raw2.trw');
        $ours = Timed::shell(
            '('.$convert('a.dng').' & '.$convert('b.dng', 'raw2.trw').' & wait)',
        );
        $developed = Timed::shell(
            '(dcraw_emu -T '.escapeshellarg($raw).' & dcraw_emu -T '.escapeshellarg($folder.'/raw2.trw').' & wait)',
        );
        yield \sprintf(
            'two files on two cores: ours %.2f s, dcraw_emu -T %.2f s, ratio %.2f',
            $ours,
            $developed,
            $developed / $ours,
        );
    }

    /**
     * With noise of about 26 in 16,383, as a sensor has it at ISO 800: the demo's drawing has none. The samples lie
     * behind the header.
     */
    private static function grainy(string $raw): string
    {
        $length = 2 * self::WIDTH * self::HEIGHT;
        $out = substr($raw, 0, 8);
        mt_srand(417);
        foreach (str_split(substr($raw, 8, $length), 1 << 20) as $part) {
            $noise = [];
            foreach (array_filter((array) unpack('P*', $part), is_int(...)) as $four) {
                // two uniform parts in each of four samples; none of them comes near to 2^16
                $noise[] = $four
                    + (mt_rand() << 32 & 0x3F003F00000000 | mt_rand() & 0x3F003F)
                    + (mt_rand() << 32 & 0x3F003F00000000 | mt_rand() & 0x3F003F);
            }
            $out .= pack('P*', ...$noise);
        }

        return $out.substr($raw, 8 + $length);
    }

    /**
     * What differs from the mean of left and above, of the same colour: what the encoder's predictor 7 gives, as bytes.
     */
    private static function differences(string $samples): string
    {
        $row = 2 * self::WIDTH;
        $above = array_fill(1, self::WIDTH, 0);
        $before = $above;
        $out = '';
        foreach (str_split($samples, $row) as $packed) {
            $now = array_filter((array) unpack('v*', $packed), is_int(...));
            $line = [];
            foreach ($now as $i => $sample) {
                $line[] = ($sample - ((($now[$i - 2] ?? $above[$i]) + $above[$i]) >> 1)) & 0xFFFF;
            }
            $out .= pack('v*', ...$line);
            [$above, $before] = [$before, $now];
        }

        return $out;
    }

    /** @return array{samples: int, seconds: float, bytes: int, predictor: int} */
    private static function said(string $line): array
    {
        /** @var array{samples: int, seconds: float, bytes: int, predictor: int} */
        return json_decode($line, true, 8, \JSON_THROW_ON_ERROR);
    }
}
