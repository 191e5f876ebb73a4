<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;

/** Rights and ten keywords into JPEG files and sidecars, against exiftool in one batch call on the same files. */
final class MetadataBench implements Bench
{
    private const FILES = 1000;
    private const TEXTS = [
        'creator' => 'Ines Varga-Holt',
        'copyright' => '© 2026 Ines Varga-Holt',
        'usage_terms' => 'No use without a licence.',
        'web_statement' => 'https://example.org/rights',
        'contact_mail' => 'ines@example.org',
        'headline' => 'Lantern Regatta',
    ];
    private const TAGS = [
        '-XMP-dc:Creator=Ines Varga-Holt',
        '-IPTC:By-line=Ines Varga-Holt',
        '-EXIF:Artist=Ines Varga-Holt',
        '-XMP-dc:Rights=© 2026 Ines Varga-Holt',
        '-IPTC:CopyrightNotice=© 2026 Ines Varga-Holt',
        '-EXIF:Copyright=© 2026 Ines Varga-Holt',
        '-XMP-xmpRights:UsageTerms=No use without a licence.',
        '-XMP-xmpRights:WebStatement=https://example.org/rights',
        '-XMP-iptcCore:CreatorWorkEmail=ines@example.org',
        '-XMP-photoshop:Headline=Lantern Regatta',
        '-IPTC:Headline=Lantern Regatta',
    ];
    private const SIDECAR_TAGS = [
        '-XMP-dc:Creator=Ines Varga-Holt',
        '-XMP-dc:Rights=© 2026 Ines Varga-Holt',
        '-XMP-xmpRights:UsageTerms=No use without a licence.',
        '-XMP-xmpRights:WebStatement=https://example.org/rights',
        '-XMP-iptcCore:CreatorWorkEmail=ines@example.org',
        '-XMP-photoshop:Headline=Lantern Regatta',
    ];

    public function run(string $folder): iterable
    {
        $keywords = array_map(static fn (int $n): string => "keyword $n", range(1, 10));
        $metadata = new Metadata(self::TEXTS, $keywords);
        $history = new History(new \DateTimeImmutable());
        mkdir($folder.'/ours');
        mkdir($folder.'/theirs');
        $this->draw($folder.'/ours');
        exec('cp '.escapeshellarg($folder).'/ours/* '.escapeshellarg($folder).'/theirs/');
        $ours = Timed::seconds(static function () use ($folder, $metadata, $history): void {
            foreach ((array) glob($folder.'/ours/*.jpg') as $path) {
                self::write((string) $path, $metadata, $history);
            }
        });
        $theirs = Timed::shell(
            'exiftool -q -q -overwrite_original '.implode(
                ' ',
                array_map(
                    escapeshellarg(...),
                    [
                        ...self::TAGS,
                        ...array_map(static fn (string $keyword): string => '-XMP-dc:Subject='.$keyword, $keywords),
                        ...array_map(static fn (string $keyword): string => '-IPTC:Keywords='.$keyword, $keywords),
                    ],
                ),
            ).' '.escapeshellarg($folder.'/theirs'),
        );
        yield \sprintf(
            '%d JPEG files with rights and ten keywords: ours %.2f s, exiftool %.2f s, ratio %.1f',
            self::FILES,
            $ours,
            $theirs,
            $theirs / $ours,
        );
        exec('rm -rf '.escapeshellarg($folder).'/ours/* '.escapeshellarg($folder).'/theirs/*');
        for ($n = 0; $n < self::FILES; ++$n) {
            foreach (['ours', 'theirs'] as $place) {
                file_put_contents(
                    "$folder/$place/$n.xmp",
                    SidecarFile::fresh(new Metadata(['title' => 'Regatta']), $history),
                );
            }
        }
        $ours = Timed::seconds(static function () use ($folder, $metadata, $history): void {
            $kind = new SidecarFile();
            foreach ((array) glob($folder.'/ours/*.xmp') as $path) {
                $content = $kind->with(FileBytes::open((string) $path), $metadata, $history)->pieces[0];
                file_put_contents($path.'.new', $content);
                rename($path.'.new', (string) $path);
            }
        });
        $theirs = Timed::shell(
            'exiftool -q -q -overwrite_original '.implode(
                ' ',
                array_map(
                    escapeshellarg(...),
                    [
                        ...self::SIDECAR_TAGS,
                        ...array_map(static fn (string $keyword): string => '-XMP-dc:Subject='.$keyword, $keywords),
                    ],
                ),
            ).' '.escapeshellarg($folder.'/theirs'),
        );
        yield \sprintf(
            '%d sidecars with rights and ten keywords: ours %.2f s, exiftool %.2f s, ratio %.1f',
            self::FILES,
            $ours,
            $theirs,
            $theirs / $ours,
        );
    }

    private static function write(string $path, Metadata $metadata, History $history): void
    {
        $new = $path.'.new';
        $handle = fopen($new, 'w');
        \assert(false !== $handle);
        MetadataCopy::of(
            new JpegFile(),
            FileBytes::open($path),
            $metadata,
            $history,
            static function (string $bytes) use ($handle): void {
                fwrite($handle, $bytes);
            },
            static fn (): FileBytes => FileBytes::open($new),
        );
        fclose($handle);
        rename($new, $path);
    }

    private function draw(string $folder): void
    {
        $camera = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $picture = Picture::perlin(1080, 720, 60, 1)->times(100, 128);
        $picture = $picture->join($picture)->join($picture)->finished();
        $jpeg = FrameFiles::jpeg(
            $picture,
            new Exposure($camera, '2026:05:02 19:31:40', 1, [1, 250], [28, 10], 800, 50),
        );
        for ($n = 0; $n < self::FILES; ++$n) {
            file_put_contents("$folder/$n.jpg", $jpeg);
        }
    }
}
