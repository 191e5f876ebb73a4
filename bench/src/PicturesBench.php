<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/** A card of 2,000 frames from being put in to pictures on the screen, in a real browser. There is no other program to compare with. */
final class PicturesBench implements Bench
{
    private const FRAMES = 2000;
    private const VARIANTS = 40;

    public function run(string $folder): iterable
    {
        $home = (string) getenv('VELVET_HOME');
        $bay = $home.'/demo/bay';
        if (!is_dir($bay)) {
            mkdir($bay, 0o755, true);
        }
        $card = $home.'/bench-'.getmypid();
        mkdir($card.'/DCIM/100BENCH', 0o755, true);
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $pictures = [];
        for ($n = 0; $n < self::VARIANTS; ++$n) {
            $picture = Picture::perlin(1080, 720, 60, $n)->times(100, 128);
            $pictures[] = $picture->join($picture)->join($picture)->finished();
        }
        $start = new \DateTimeImmutable('2026-05-02 09:00:00 UTC');
        for ($n = 0; $n < self::FRAMES; ++$n) {
            $exposure = new Exposure($camera, $start->modify("+$n seconds")->format('Y:m:d H:i:s'), $n % 1000, [1, 250], [28, 10], 800, 50);
            file_put_contents(\sprintf('%s/DCIM/100BENCH/T%04d.JPG', $card, $n), FrameFiles::jpeg($pictures[$n % self::VARIANTS], $exposure));
        }
        try {
            $root = \dirname(__DIR__, 2);
            $output = (string) shell_exec(implode(' ', ['node', ...array_map(escapeshellarg(...), ["$root/web/bench/first-pictures.mjs", 'http://127.0.0.1:'.getenv('VELVET_PORT').'/', $card, $bay])]));
            $times = json_decode($output, true);
            if (!\is_array($times) || !is_numeric($times['noticed']) || !is_numeric($times['read']) || !is_numeric($times['pictures'])) {
                throw new \RuntimeException('The browser measured nothing: '.$output);
            }
            yield \sprintf('%d frames: noticed after %.2f s, all facts after %.2f s, first pictures on the sheet %.2f s after that (nothing to compare with)', self::FRAMES, $times['noticed'] / 1000, $times['read'] / 1000, $times['pictures'] / 1000);
        } finally {
            exec('rm -rf '.escapeshellarg($card).' '.escapeshellarg($bay.'/'.basename($card)));
        }
    }
}
