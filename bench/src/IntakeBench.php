<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Copy\PageCache;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/**
 * The whole command as a user gives it, a card to two places, against the careful way by hand in the same run: cp to
 * both, sync, drop what the computer's memory holds of them, cmp both with the card, exiftool in one batch, the written
 * files copied to the second place, sync. Where no metadata is wanted the hand stops after cmp. Beside both stands what
 * the drives take at least: one read of the card, one write and one read back in each place. Nothing of the card is in
 * memory before each, and no small files were deleted just before: ext4 passes over the numbers of those for a minute,
 * which makes each new file dear.
 */
final readonly class IntakeBench implements Bench
{
    private const PORT = 8427;
    private const CREATOR = 'Ines Varga-Holt';
    private const COPYRIGHT = '© 2026 Ines Varga-Holt';
    private const KEYWORD = 'Tarn Hollow';

    private const WORDS = [
        '--creator', self::CREATOR, '--copyright', self::COPYRIGHT, '--keyword', self::KEYWORD,
    ];

    /** Files of a card, and bytes of each, at least. */
    private const CARDS = ['small' => [2000, 4000], 'many' => [20_000, 4000], 'large' => [100, 25_000_000]];
    private const RAW = 8;

    public function __construct(private ?string $only = null)
    {
    }

    public function run(string $folder): iterable
    {
        foreach (self::CARDS as $name => [$files, $bytes]) {
            if (null !== $this->only && $name !== $this->only) {
                continue;
            }
            $card = "$folder/$name";
            self::draw($card, $files, $bytes);
            $size = number_format(self::bytes($card) / $files / 1000).' kB';
            yield from $this->compared($folder, $card, "$files JPEG files of $size, with metadata", true);
            yield from $this->compared($folder, $card, "$files JPEG files of $size, without", false);
            if ('small' === $name) {
                yield $this->syncs($folder, $card, $files);
            }
            exec('rm -rf '.escapeshellarg($card).' '.escapeshellarg("$folder/over"));
        }
        if (null === $this->only || 'raw' === $this->only) {
            self::drawRaw("$folder/raw", self::RAW);
            $what = self::RAW.' raw files as DNG, with metadata';
            yield from $this->compared($folder, "$folder/raw", $what, true, true);
        }
    }

    /** @return iterable<string> */
    private function compared(
        string $folder,
        string $card,
        string $what,
        bool $says,
        bool $dng = false,
    ): iterable {
        $files = \count((array) glob($card.'/DCIM/*/*'));
        $bytes = self::bytes($card);
        $home = new BenchHome($folder.'/home', self::PORT);
        try {
            $home->velvet('setup');
            $home->velvet('shelf', 'Bench', "$folder/shelf", "$folder/twin"); // its database runs from here on
            self::forget($card);
            $before = $home->activity();
            $command = [
                'intake', $card, '--shelf', "$folder/shelf", '--twin', "$folder/twin", '--json',
                ...($says ? self::WORDS : []), ...($dng ? ['--dng', 'instead'] : []),
            ];
            $run = $home->measured(...$command);
            $after = $home->activity();
            foreach (['shelf', 'twin'] as $place) {
                $found = (int) shell_exec("find $folder/$place -type f -name '*[0-9].*' | grep -c -v xmp");
                if ($found !== $files) {
                    throw new \RuntimeException("Of $files files $found are in the $place.");
                }
            }
        } finally {
            $home->velvet('stop');
            self::over($folder, 'home', 'shelf', 'twin');
        }
        $hand = $dng ? null : self::byHand($folder, $card, $says);
        $least = self::least($folder, $card);
        yield \sprintf(
            '%s: ours %.2f s%s, the drives alone %.2f s; %.0f files/s, %.1f MB/s',
            $what,
            $run->seconds,
            null === $hand ? ' (nothing to compare with)' : \sprintf(
                ', by hand %.2f s, ratio %.2f',
                $hand,
                $hand / $run->seconds,
            ),
            $least,
            $files / $run->seconds,
            $bytes / 1e6 / $run->seconds,
        );
        yield \sprintf(
            '%s: %.2f bytes read and %.2f written per byte of the card, by the database %.2f; %.1f commits and %.1f '
                .'syncs of it per file; peak memory %s',
            $what,
            $run->read / $bytes,
            $run->written / $bytes,
            ($after['wal_bytes'] - $before['wal_bytes']) / $bytes,
            ($after['commits'] - $before['commits']) / $files,
            ($after['wal_syncs'] - $before['wal_syncs']) / $files,
            implode(', ', array_map(
                static fn (string $name, int $peak): string => \sprintf('%s %.0f MB', $name, $peak / 1e6),
                array_keys($run->peaks),
                $run->peaks,
            )),
        );
    }

    /** What is counted here cannot be timed in the same run. */
    private function syncs(string $folder, string $card, int $files): string
    {
        $home = new BenchHome($folder.'/home', self::PORT);
        try {
            $home->velvet('setup');
            $home->velvet('shelf', 'Bench', "$folder/shelf", "$folder/twin");
            $syncs = $home->syncs(
                'intake',
                $card,
                '--shelf',
                "$folder/shelf",
                '--twin',
                "$folder/twin",
                ...self::WORDS,
            );
        } finally {
            $home->velvet('stop');
            self::over($folder, 'home', 'shelf', 'twin');
        }

        return \sprintf(
            '%d files to two places: %.2f syncs per file (nothing to compare with)',
            $files,
            $syncs / $files,
        );
    }

    /** @return float seconds */
    private static function byHand(string $folder, string $card, bool $says): float
    {
        $cd = 'cd '.escapeshellarg($folder);
        $from = escapeshellarg($card).'/DCIM/*/';
        self::forget($card);
        $seconds = Timed::shell("$cd && mkdir a b && cp -pr $from. a/ && cp -pr $from. b/ && sync");
        array_map(self::forget(...), ["$folder/a", "$folder/b", $card]);
        $each = "for f in $from*; do n=\${f##*/}";
        $seconds += Timed::shell("$cd && $each; cmp \$f a/\$n && cmp \$f b/\$n || exit 1; done");
        if ($says) {
            $seconds += Timed::shell("$cd && exiftool -q -q -overwrite_original -P ".implode(' ', array_map(
                escapeshellarg(...),
                [
                    '-XMP-dc:Creator='.self::CREATOR, '-IPTC:By-line='.self::CREATOR, '-EXIF:Artist='.self::CREATOR,
                    '-XMP-dc:Rights='.self::COPYRIGHT, '-IPTC:CopyrightNotice='.self::COPYRIGHT,
                    '-EXIF:Copyright='.self::COPYRIGHT,
                    '-XMP-dc:Subject='.self::KEYWORD, '-IPTC:Keywords='.self::KEYWORD,
                ],
            )).' a && cp -p a/* b/ && sync');
        }
        self::over($folder, 'a', 'b');

        return $seconds;
    }

    /** @return float seconds for a bare copy to both places, and for reading that again */
    private static function least(string $folder, string $card): float
    {
        self::forget($card);
        $cd = 'cd '.escapeshellarg($folder);
        $from = escapeshellarg($card).'/DCIM/*/';
        $each = "for f in $from*; do n=\${f##*/}";
        $seconds = Timed::shell("$cd && mkdir a b && ($each; tee a/\$n < \$f > b/\$n; done) && sync");
        array_map(self::forget(...), ["$folder/a", "$folder/b"]);
        $seconds += Timed::shell("$cd && cat a/* b/* > /dev/null");
        self::over($folder, 'a', 'b');

        return $seconds;
    }

    /** What is small is put away until nothing is measured any more; what is large would fill the drive. */
    private static function over(string $folder, string ...$names): void
    {
        is_dir("$folder/over") || mkdir("$folder/over");
        foreach ($names as $name) {
            $path = "$folder/$name";
            if (1_000_000 < (int) shell_exec('du -sk '.escapeshellarg($path))) {
                exec('rm -rf '.escapeshellarg($path));
            } else {
                rename($path, "$folder/over/".bin2hex(random_bytes(4)));
            }
        }
    }

    private static function draw(string $card, int $files, int $bytes): void
    {
        mkdir($card.'/DCIM/100BENCH', 0o755, true);
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $picture = Picture::perlin(96, 64, 20, 1)->times(100, 128);
        $picture = $picture->join($picture)->join($picture)->finished();
        $start = new \DateTimeImmutable('2026-05-02 09:00:00 UTC');
        for ($n = 0; $n < $files; ++$n) {
            $jpeg = FrameFiles::jpeg($picture, new Exposure(
                $camera,
                $start->modify('+'.intdiv($n, 4).' seconds')->format('Y:m:d H:i:s'),
                $n % 1000,
                [1, 250],
                [28, 10],
                800,
                50,
            ));
            // a scan of so many bytes, before the end of the image; no byte of it is a marker
            $more = max(0, $bytes - \strlen($jpeg));
            $scan = 0 === $more ? '' : str_replace("\xFF", 'v', random_bytes($more));
            file_put_contents(
                \sprintf('%s/DCIM/100BENCH/T%05d.JPG', $card, $n),
                substr($jpeg, 0, -2).$scan."\xFF\xD9",
            );
        }
    }

    private static function drawRaw(string $card, int $files): void
    {
        mkdir($card.'/DCIM/100BENCH', 0o755, true);
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $picture = Picture::perlin(6000, 4000, 300, 1)->times(100, 128);
        $picture = $picture->join($picture)->join($picture)->finished();
        for ($n = 0; $n < $files; ++$n) {
            file_put_contents(
                \sprintf('%s/DCIM/100BENCH/T%05d.TRW', $card, $n),
                FrameFiles::raw($picture, new Exposure(
                    $camera,
                    "2026:05:02 09:00:0$n",
                    $n,
                    [1, 250],
                    [28, 10],
                    800,
                    50,
                )),
            );
        }
    }

    private static function bytes(string $card): int
    {
        return array_sum(array_map(
            static fn ($path): int => (int) filesize((string) $path),
            (array) glob($card.'/DCIM/*/*'),
        ));
    }

    /** Drops what the computer's memory holds of a folder's files. */
    private static function forget(string $folder): void
    {
        exec('sync');
        $cache = new PageCache();
        foreach ([...(array) glob($folder.'/*'), ...(array) glob($folder.'/DCIM/*/*')] as $path) {
            $cache->forget((string) $path);
        }
    }
}
