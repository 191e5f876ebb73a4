<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Capture\Capture;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/**
 * Facts of 1,000 files against `exiftool -fast2 -json` on the same files: a third JPEG, a third TIFF/EP raw as the demo
 * draws them, a third small samples of every other format. That no fact is lost is the table's to show
 * (`FactsTableTest`).
 */
final class CardBench implements Bench
{
    private const FILES = 1000;

    public function run(string $folder): iterable
    {
        $card = $folder.'/card/DCIM/100BENCH';
        mkdir($card, 0o755, true);
        $picture = Picture::perlin(1080, 720, 60, 1)->times(100, 128);
        $picture = $picture->join($picture)->join($picture)->finished();
        $exposure = new Exposure(
            new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA'),
            '2026:05:02 19:31:40',
            120,
            [1, 250],
            [28, 10],
            800,
            50,
        );
        [$jpeg, $raw] = [FrameFiles::jpeg($picture, $exposure), FrameFiles::raw($picture, $exposure)];
        for ($n = 0; $n < self::FILES; ++$n) {
            $format = Samples::STILLS[$n % \count(Samples::STILLS)];
            [$extension, $bytes] = [['JPG', $jpeg], ['TRW', $raw], [strtoupper($format), Samples::of($format)]][$n % 3];
            file_put_contents(\sprintf('%s/T%04d.%s', $card, $n, $extension), $bytes);
        }
        $capture = Capture::inZone(new \DateTimeZone('UTC'));
        $read = 0;
        $ours = Timed::seconds(static function () use ($folder, $capture, &$read): void {
            foreach (CardWalk::of($folder.'/card')->files as $file) {
                $read += $capture->of($folder.'/card/'.$file->path, $file->modifiedAt)->bytesRead;
            }
        });
        $theirs = Timed::shell(
            \sprintf('exiftool -q -fast2 -json -r -ext+ TRW %s > /dev/null', escapeshellarg($folder.'/card')),
        );
        yield \sprintf(
            'facts and fingerprints of %d files of %d formats: ours %.3f s (%.0f files/s, %.1f kB read per file, '
                .'peak %.0f MB), exiftool -fast2 %.2f s, ratio %.0f times',
            self::FILES,
            \count(Samples::STILLS) + 1,
            $ours,
            self::FILES / $ours,
            $read / self::FILES / 1000,
            memory_get_peak_usage() / 1e6,
            $theirs,
            $theirs / $ours,
        );
    }
}
