<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\RawFile;
use Velvet\Core\Dng\RawTag;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/** A card of frames with content that nobody else has, a shelf and a twin, all in one folder. */
final readonly class TrialPlace
{
    /** So that six of them are more than one worker claims at once. */
    private const MOST_BYTES = 8_000_000;

    public string $card;
    public string $shelf;
    public string $twin;
    /**
     * @var array<string, string> content of the card's files (MD5), by path; of their pictures alone where metadata is
     *     written, of their samples where they become DNG
     */
    public array $content;

    /**
     * @param string|null $twin      absolute; null: a folder beside the shelf
     * @param string      $shoot     name of the shoot that the card becomes
     * @param int         $mostBytes of a frame
     */
    public function __construct(
        private string $folder,
        int $frames,
        \Random\Randomizer $random,
        public TrialKind $kind = TrialKind::Copies,
        ?string $twin = null,
        public string $shoot = 'Lantern Regatta',
        int $mostBytes = self::MOST_BYTES,
    ) {
        $this->card = $folder.'/card';
        $this->shelf = $folder.'/shelf';
        $this->twin = $twin ?? $folder.'/twin';
        mkdir($this->card.'/DCIM/100TARN', 0o755, true);
        mkdir($this->shelf);
        mkdir($this->twin);
        if (TrialKind::Dng === $this->kind) {
            $this->content = $this->raws($frames, $random);

            return;
        }
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $picture = Picture::perlin(48, 32, 8, 1)->times(100, 128);
        $picture = $picture->join($picture)->join($picture)->finished();
        $content = [];
        for ($n = 1; $n <= $frames; ++$n) {
            $exposure = new Exposure(
                $camera,
                \sprintf('2026:05:02 19:31:%02d', $n % 60),
                $n,
                [1, 250],
                [28, 10],
                800,
                50,
            );
            $path = \sprintf('%s/DCIM/100TARN/T%04d.JPG', $this->card, $n);
            file_put_contents(
                $path,
                FrameFiles::jpeg($picture, $exposure).random_bytes($random->getInt(1, $mostBytes)),
            );
            $content[$path] = $this->digest($path);
        }
        $this->content = $content;
    }

    /** @return array<string, string> */
    private function raws(int $frames, \Random\Randomizer $random): array
    {
        $content = [];
        for ($n = 1; $n <= $frames; ++$n) {
            $path = \sprintf('%s/DCIM/100TARN/T%04d.TRW', $this->card, $n);
            [$width, $height] = [16 * $random->getInt(1, 50), 2 * $random->getInt(1, 300)];
            $tiff = new TiffWriter();
            $raw = $tiff->directory([
                RawTag::WIDTH => [TiffWriter::LONG, $width], RawTag::LENGTH => [TiffWriter::LONG, $height],
                RawTag::BITS_PER_SAMPLE => [TiffWriter::SHORT, 16], RawTag::COMPRESSION => [TiffWriter::SHORT, 1],
                RawTag::PHOTOMETRIC => [TiffWriter::SHORT, 32803],
                RawTag::STRIP_OFFSETS => [TiffWriter::LONG, $tiff->data(random_bytes(2 * $width * $height))],
                RawTag::SAMPLES_PER_PIXEL => [TiffWriter::SHORT, 1],
                RawTag::ROWS_PER_STRIP => [TiffWriter::LONG, $height],
                RawTag::STRIP_BYTE_COUNTS => [TiffWriter::LONG, 2 * $width * $height],
                RawTag::CFA_REPEAT => [TiffWriter::SHORT, [2, 2]],
                RawTag::CFA_PATTERN => [TiffWriter::BYTE, [0, 1, 1, 2]],
            ]);
            $exif = $tiff->directory([0x9003 => [TiffWriter::ASCII, \sprintf('2026:05:02 19:31:%02d', $n)]]);
            file_put_contents(
                $path,
                $tiff->finished(
                    $tiff->directory(
                        [
                            RawTag::MAKE => [TiffWriter::ASCII, Camera::MAKE],
                            RawTag::SUB_IFDS => [TiffWriter::LONG, $raw],
                            RawTag::EXIF_IFD => [TiffWriter::LONG, $exif],
                        ],
                    ),
                ),
            );
            $content[$path] = $this->digest($path);
        }

        return $content;
    }

    public function bytes(): int
    {
        return array_sum(array_map(filesize(...), array_keys($this->content)));
    }

    /**
     * Compares the card with both trees.
     *
     * @return list<string> what is lost, half there, there twice, left lying about or changed; empty when all is well
     */
    public function losses(): array
    {
        $losses = [];
        [$card, $shelf, $twin] = [$this->tree($this->card), $this->tree($this->shelf), $this->tree($this->twin)];
        if (TrialKind::Copies !== $this->kind) {
            array_push($losses, ...$this->unwritten(array_keys($shelf)));
        }
        if ($shelf !== $twin) {
            $losses[] = 'shelf and twin differ: '.implode(
                ', ',
                array_keys(array_diff_assoc($shelf, $twin) + array_diff_assoc($twin, $shelf)),
            );
        }
        $expected = array_values($this->content);
        $found = array_values($shelf);
        sort($expected);
        sort($found);
        if ($expected !== $found) {
            $losses[] = \sprintf(
                '%d files on the shelf for %d on the card, %d of them with a content that the card has (%s): %s',
                \count($found),
                \count($expected),
                \count(array_intersect($found, $expected)),
                $this->kind->value,
                implode(', ', array_map(
                    static fn (string $path, string $content): string => "$path $content",
                    array_keys($shelf),
                    $shelf,
                )),
            );
        }
        foreach (array_keys($shelf) as $path) {
            if (str_starts_with(basename($path), '.') || 1 !== preg_match('/_\d{4}\.(?:jpg|dng)$/', $path)) {
                $losses[] = 'left lying about: '.$path;
            }
        }
        if (array_values($card) !== array_values($this->content)) {
            $losses[] = 'the card was changed';
        }

        return $losses;
    }

    /** @return list<string> files that bear a final name and whose content is not whole */
    public function halfFiles(): array
    {
        $half = [];
        foreach ([$this->shelf, $this->twin] as $root) {
            foreach ($this->tree($root) as $path => $content) {
                if (!str_starts_with(basename($path), '.') && !\in_array($content, $this->content, true)) {
                    $half[] = 'half there: '.$root.'/'.$path;
                }
            }
        }

        return $half;
    }

    /** MD5 of a file; or of all from its first scan on, its picture, and what lies behind that; or of its samples. */
    private function digest(string $path): string
    {
        if (TrialKind::Dng === $this->kind) {
            try {
                return bin2hex(RawFile::open(FileBytes::open($path))->image()->digest());
            } catch (DngRefused|FileUnreadable $e) {
                return $e->getMessage();
            }
        }
        if (TrialKind::Copies === $this->kind) {
            return (string) @md5_file($path); // a temporary file may have gone, or got its name, meanwhile
        }
        $bytes = (string) file_get_contents($path);
        $at = 2;
        while ($at + 4 <= \strlen($bytes) && "\xDA" !== $bytes[$at + 1]) {
            $at += 2 + (\ord($bytes[$at + 2]) << 8) + \ord($bytes[$at + 3]);
        }

        return md5(substr($bytes, $at));
    }

    /**
     * @param list<string> $paths
     *
     * @return list<string>
     */
    private function unwritten(array $paths): array
    {
        $losses = [];
        foreach ($paths as $path) {
            [$shelf, $twin] = [
                (string) @file_get_contents($this->shelf.'/'.$path),
                (string) @file_get_contents($this->twin.'/'.$path),
            ];
            if ($shelf !== $twin || !str_contains($shelf, 'Ines Varga-Holt')) {
                $losses[] = 'without metadata, or not the same in both places: '.$path;
            }
        }

        return $losses;
    }

    public function remove(): void
    {
        exec('rm -rf '.escapeshellarg($this->folder).' '.escapeshellarg($this->twin));
    }

    /** Whether a copy was begun: a file lies on the shelf, be it a temporary one. */
    public function isAnyBegun(): bool
    {
        if (!is_dir($this->shelf)) {
            return false;
        }
        try {
            $files = new \RecursiveDirectoryIterator($this->shelf, \FilesystemIterator::SKIP_DOTS);
            foreach (new \RecursiveIteratorIterator($files) as $_) {
                return true;
            }
        } catch (\UnexpectedValueException) { // a folder went meanwhile
        }

        return false;
    }

    /** @return array<string, string> MD5 of each file that bears a final name, by its absolute path */
    public function contentsBelow(string $root): array
    {
        $contents = [];
        foreach ($this->tree($root) as $path => $content) {
            if (!str_starts_with(basename($path), '.')) {
                $contents[$root.'/'.$path] = $content;
            }
        }

        return $contents;
    }

    /** @return array<string, string> MD5 of each file, by path below the root */
    public function tree(string $root): array
    {
        $tree = [];
        /** @var \SplFileInfo $file */
        foreach (new \RecursiveIteratorIterator(
            new \RecursiveDirectoryIterator($root, \FilesystemIterator::SKIP_DOTS),
        ) as $file) {
            $tree[substr($file->getPathname(), \strlen($root) + 1)] = $this->digest($file->getPathname());
        }
        ksort($tree);

        return $tree;
    }
}
