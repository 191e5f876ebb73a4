<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/** A card of many small JPEG frames, put into the running instance's bay and looked at in a real browser. */
final class BenchCard
{
    private const VARIANTS = 40;
    private const LONG = 1080;

    /**
     * @param string $script   in `web/bench`; it is told the address, the card and the bay
     * @param int    $longEdge of the frames, in pixels
     *
     * @return array<mixed> what it printed as JSON
     */
    public static function inTheBrowser(string $script, int $frames, int $longEdge = self::LONG): array
    {
        $home = (string) getenv('VELVET_HOME');
        $bay = $home.'/demo/bay';
        if (!is_dir($bay)) {
            mkdir($bay, 0o755, true);
        }
        $card = $home.'/bench-'.getmypid();
        self::draw($card, $frames, longEdge: $longEdge);
        try {
            $output = (string) shell_exec(
                implode(
                    ' ',
                    [
                        'node',
                        ...array_map(
                            escapeshellarg(...),
                            [
                                \dirname(__DIR__, 2).'/web/bench/'.$script,
                                'http://127.0.0.1:'.getenv('VELVET_PORT').'/',
                                $card,
                                $bay,
                            ],
                        ),
                    ],
                ),
            );
            $measured = json_decode($output, true);

            return \is_array($measured)
                ? $measured
                : throw new \RuntimeException('The browser measured nothing: '.$output);
        } finally {
            exec('rm -rf '.escapeshellarg($card).' '.escapeshellarg($bay.'/'.basename($card)));
        }
    }

    /** @param string $from when the first frame was shot */
    public static function draw(
        string $card,
        int $frames,
        string $from = '2026-05-02 09:00:00',
        int $longEdge = self::LONG,
    ): void {
        mkdir($card.'/DCIM/100BENCH', 0o755, true);
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $pictures = [];
        for ($n = 0; $n < self::VARIANTS; ++$n) {
            $picture = Picture::perlin($longEdge, intdiv(2 * $longEdge, 3), 60, $n)->times(100, 128);
            $pictures[] = $picture->join($picture)->join($picture)->finished();
        }
        $start = new \DateTimeImmutable($from.' UTC');
        for ($n = 0; $n < $frames; ++$n) {
            $exposure = new Exposure(
                $camera,
                $start->modify("+$n seconds")->format('Y:m:d H:i:s'),
                $n % 1000,
                [1, 250],
                [28, 10],
                800,
                50,
            );
            file_put_contents(
                \sprintf('%s/DCIM/100BENCH/T%05d.JPG', $card, $n),
                FrameFiles::jpeg($pictures[$n % self::VARIANTS], $exposure),
            );
        }
    }
}
