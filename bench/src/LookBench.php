<?php

declare(strict_types=1);

namespace Velvet\Bench;

/**
 * The first look of a shoot of 24-megapixel JPEGs, in a real browser: from the key to what is painted, and how fast its
 * pictures are drawn. The other program is vipsthumbnail, which makes the same large pictures from the same files.
 */
final class LookBench implements Bench
{
    private const FRAMES = 100;
    private const VARIANTS = 10;

    public function run(string $folder): iterable
    {
        $card = $folder.'/LOOK';
        self::draw($card);
        $home = getenv('VELVET_HOME');
        if (false === $home) {
            throw new \RuntimeException('The bench does not know its home.');
        }
        exec('rm -rf '.escapeshellarg($home.'/pictures')); // an earlier run drew the same ones
        foreach (['shelf', 'twin'] as $place) {
            mkdir($folder.'/'.$place);
        }
        Timed::shell(implode(' ', array_map(escapeshellarg(...), [
            \dirname(__DIR__, 2).'/velvet', 'intake', $card, '--shelf', $folder.'/shelf', '--twin', $folder.'/twin',
            '--name', 'First look bench',
        ])));
        $output = (string) shell_exec(implode(' ', array_map(escapeshellarg(...), [
            'node', \dirname(__DIR__, 2).'/web/bench/look.mjs', 'http://127.0.0.1:'.getenv('VELVET_PORT').'/',
        ])));
        $measured = json_decode($output, true);
        if (!\is_array($measured) || !\is_array($measured['screens'] ?? null)) {
            throw new \RuntimeException('The browser measured nothing: '.$output);
        }
        foreach (['near' => 1024, 'large' => 2560] as $what => $edge) {
            $theirs = self::FRAMES / Timed::shell(\sprintf(
                'ls %s/DCIM/100BENCH/*.JPG | xargs -P 2 -n 10 vipsthumbnail --size %2$dx%2$d -o %3$s/%%s-thumb.jpg',
                escapeshellarg($card),
                $edge,
                escapeshellarg($folder),
            ));
            $ours = self::number($measured, $what);
            yield \sprintf(
                'pictures of %s px: ours %.1f a second, vipsthumbnail on two cores %.1f, ratio %.2f',
                number_format($edge),
                $ours,
                $theirs,
                $ours / $theirs,
            );
        }
        foreach ($measured['screens'] as $screen) {
            \assert(\is_array($screen));
            yield \sprintf(
                '%dx%d: key to next picture %s ms, verdict to next picture %s ms, stars to mark %s ms, far jump %s ms '
                    .'(median, 95 %%); arrow held: %.0f frames a second; 1:1 after %s ms; %d frames judged one by one '
                    .'as fast as they are shown in %.1f s, all known to the server %.1f s later; the page takes '
                    .'%.0f MB (nothing to compare with)',
                self::number($screen, 'width'),
                self::number($screen, 'height'),
                self::spread($screen, 'moves'),
                self::spread($screen, 'verdicts'),
                self::spread($screen, 'marks'),
                self::spread($screen, 'jumps'),
                self::number($screen, 'held'),
                self::spread($screen, 'wholes'),
                self::FRAMES,
                self::number($screen, 'cull'),
                self::number($screen, 'known'),
                self::number($screen, 'memory'),
            );
        }
    }

    /** Frames that look like photographs when they are shrunk: small ones made large by ffmpeg, with grain. */
    private static function draw(string $card): void
    {
        BenchCard::draw($card, self::FRAMES);
        $files = glob($card.'/DCIM/100BENCH/*.JPG');
        foreach (\array_slice(false === $files ? [] : $files, 0, self::VARIANTS) as $n => $file) {
            Timed::shell(\sprintf(
                'ffmpeg -v error -i %s -vf scale=6000:4000,noise=alls=6 -q:v 3 %s',
                escapeshellarg($file),
                escapeshellarg($card.'/'.$n.'.jpg'),
            ));
        }
        foreach (false === $files ? [] : $files as $n => $file) {
            Timed::shell(\sprintf(
                'exiftool -q -tagsFromFile %s -all:all %s -o %s',
                escapeshellarg($file),
                escapeshellarg($card.'/'.($n % self::VARIANTS).'.jpg'),
                escapeshellarg($file.'.large'),
            ));
            rename($file.'.large', $file);
        }
        exec('rm '.escapeshellarg($card).'/*.jpg');
    }

    /** @param array<mixed> $measured */
    private static function number(array $measured, string $what): float
    {
        $number = $measured[$what] ?? null;

        return is_numeric($number) ? (float) $number : throw new \RuntimeException('The browser measured no '.$what);
    }

    /** @param array<mixed> $measured */
    private static function spread(array $measured, string $what): string
    {
        $times = $measured[$what] ?? null;
        $times = array_values(array_filter(\is_array($times) ? $times : [], is_numeric(...)));
        if ([] === $times) {
            throw new \RuntimeException('The browser measured no '.$what);
        }
        sort($times);

        return \sprintf(
            '%.0f, %.0f',
            $times[intdiv(\count($times), 2)],
            $times[(int) ceil(0.95 * \count($times)) - 1],
        );
    }
}
