<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Metadata;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\XmpForm;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Filed\Rotation;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Tests\Capture\ExifTool;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Core\Tests\TemporaryFolder;

/**
 * What is written is read back equal by exiftool and exiv2 from Debian, and what exiftool writes is read equal by us.
 */
final class WrittenFilesTest extends TestCase
{
    use TemporaryFolder;
    use TestTrait;

    /** exiftool's names for the XMP properties that the fields go to. */
    private const NAMES = [
        'creator' => 'XMP-dc:Creator', 'job_title' => 'XMP-photoshop:AuthorsPosition',
        'credit_line' => 'XMP-photoshop:Credit', 'copyright' => 'XMP-dc:Rights',
        'copyright_marked' => 'XMP-xmpRights:Marked',
        'usage_terms' => 'XMP-xmpRights:UsageTerms', 'web_statement' => 'XMP-xmpRights:WebStatement',
        'contact_address' => 'XMP-iptcCore:CreatorAddress', 'contact_city' => 'XMP-iptcCore:CreatorCity',
        'contact_region' => 'XMP-iptcCore:CreatorRegion', 'contact_postcode' => 'XMP-iptcCore:CreatorPostalCode',
        'contact_country' => 'XMP-iptcCore:CreatorCountry', 'contact_phone' => 'XMP-iptcCore:CreatorWorkTelephone',
        'contact_mail' => 'XMP-iptcCore:CreatorWorkEmail', 'contact_web' => 'XMP-iptcCore:CreatorWorkURL',
        'licensor_name' => 'XMP-plus:LicensorName', 'licensor_mail' => 'XMP-plus:LicensorEmail',
        'licensor_web' => 'XMP-plus:LicensorURL',
        'title' => 'XMP-dc:Title', 'headline' => 'XMP-photoshop:Headline', 'description' => 'XMP-dc:Description',
        'instructions' => 'XMP-photoshop:Instructions', 'job_identifier' => 'XMP-photoshop:TransmissionReference',
        'event' => 'XMP-iptcExt:Event', 'sublocation' => 'XMP-iptcCore:Location', 'city' => 'XMP-photoshop:City',
        'region' => 'XMP-photoshop:State', 'country' => 'XMP-photoshop:Country',
        'country_code' => 'XMP-iptcCore:CountryCode',
        'shown_sublocation' => 'XMP-iptcExt:LocationShownSublocation', 'shown_city' => 'XMP-iptcExt:LocationShownCity',
        'shown_region' => 'XMP-iptcExt:LocationShownProvinceState',
        'shown_country' => 'XMP-iptcExt:LocationShownCountryName',
        'shown_country_code' => 'XMP-iptcExt:LocationShownCountryCode', 'label' => 'XMP-xmp:Label',
        'preserved_file_name' => 'XMP-xmpMM:PreservedFileName', 'date_created' => 'XMP-photoshop:DateCreated',
        'orientation' => 'XMP-tiff:Orientation#',
    ];

    #[DataProvider('files')]
    public function testEveryFieldIsReadBackEqualByExiftool(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $before = self::warnings($path);
        $this->write($kind, $path, self::everything());
        $theirs = self::grouped($path);
        foreach (self::NAMES as $field => $tag) {
            $value = $theirs[rtrim($tag, '#')] ?? null;
            $value = 'date_created' === $field && \is_string($value)
                ? preg_replace('/^(\d+):(\d+):(\d+) /', '$1-$2-$3T', $value)
                : $value; // exiftool's way of writing times
            $value = 'orientation' === $field && 'Rotate 90 CW' === $value ? '6' : $value;
            self::assertSame(
                self::everything()->texts[$field],
                \is_bool($value) ? ($value ? 'true' : 'false') : (\is_array($value) ? $value[0] : $value),
                "$name: $tag",
            );
        }
        self::assertSame(self::everything()->keywords, $theirs['XMP-dc:Subject'] ?? null);
        self::assertSame(4, $theirs['XMP-xmp:Rating'] ?? null);
        self::assertSame(
            self::everything()->texts['preserved_file_name'],
            $theirs['XMP-xmpMM:DerivedFromFilePath'] ?? null,
        );
        self::assertSame(
            [],
            array_values(array_diff(self::warnings($path), $before)),
            'exiftool -validate finds nothing new',
        );
        self::assertEquals(self::everything(), $kind->read(FileBytes::open($path)), 'and we read it equal, too');
    }

    /** @return iterable<string, array{string, PictureFile}> */
    public static function files(): iterable
    {
        yield 'JPEG' => ['a.jpg', new JpegFile()];
        yield 'JPEG with Exif' => ['exif.jpg', new JpegFile()];
        yield 'TIFF' => ['a.tif', new TiffFile()];
        yield 'DNG' => ['a.dng', new TiffFile()];
        yield 'PNG' => ['a.png', new PngFile()];
        yield 'sidecar' => ['a.xmp', new SidecarFile()];
    }

    #[DataProvider('files')]
    public function testEveryFieldIsReadBackEqualByExiv2(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $this->write($kind, $path, self::everything());
        $theirs = (string) shell_exec('exiv2 -pa '.escapeshellarg($path).' 2>/dev/null');
        $prefixes = ['Iptc4xmpCore' => 'iptc', 'Iptc4xmpExt' => 'iptcExt'];
        foreach (Field::cases() as $field) {
            [$form, $property] = $field->xmp()[0];
            [$prefix, $local] = explode(':', $property);
            $key = 'Xmp.'.($prefixes[$prefix] ?? $prefix).'.'.$local.match ($form) {
                XmpForm::Part => '/'.($field->xmp()[0][2] ?? ''),
                XmpForm::PartOfBag, XmpForm::PartOfSeq => '[1]/'.($field->xmp()[0][2] ?? ''),
                default => '',
            };
            $said = match ($field) {
                Field::CopyrightMarked => 'True',
                Field::Orientation => 'right, top', // exiv2's words for 6
                default => self::everything()->texts[$field->value],
            };
            $said = (XmpForm::LangAlt === $form ? 'lang="x-default" ' : '').$said;
            self::assertMatchesRegularExpression(
                '~^'.preg_quote($key, '~').'\s+\S+\s+\d+\s+'.preg_quote($said, '~').'$~m',
                $theirs,
                $name,
            );
        }
        self::assertMatchesRegularExpression('~^Xmp\.dc\.subject\s+XmpBag\s+3\s+lantern, Ténèbre, 港町$~m', $theirs);
        self::assertMatchesRegularExpression('~^Xmp\.xmp\.Rating\s+XmpText\s+1\s+4$~m', $theirs);
    }

    #[DataProvider('withOlder')]
    public function testOlderReadersFindTheSame(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $this->write($kind, $path, self::everything());
        $theirs = self::grouped($path);
        $texts = self::everything()->texts;
        $inExif = 'a.jpg' === $name
            ? [null, null, null]
            : [$texts['creator'], $texts['copyright'], $texts['description']]; // there is none in it
        self::assertSame(
            $inExif,
            [
                $theirs['IFD0:Artist'] ?? null,
                $theirs['IFD0:Copyright'] ?? null,
                $theirs['IFD0:ImageDescription'] ?? null,
            ],
        );
        self::assertSame(
            isset($theirs['ExifIFD:ExifVersion']) ? $texts['description'] : null,
            $theirs['ExifIFD:UserComment'] ?? null,
        );
        self::assertSame(
            [$texts['creator'], $texts['title'], $texts['city'], $texts['headline']],
            [
                $theirs['IPTC:By-line'] ?? null,
                $theirs['IPTC:ObjectName'] ?? null,
                $theirs['IPTC:City'] ?? null,
                $theirs['IPTC:Headline'] ?? null,
            ],
        );
        self::assertSame(self::everything()->keywords, $theirs['IPTC:Keywords'] ?? null);
        self::assertSame('UTF8', $theirs['IPTC:CodedCharacterSet'] ?? null);
        $exiv2 = (string) shell_exec('exiv2 -pa '.escapeshellarg($path).' 2>&1');
        foreach ([
            'Xmp.dc.creator',
            'Iptc.Application2.Byline',
            ...('a.jpg' === $name ? [] : ['Exif.Image.Artist']),
        ] as $key) {
            self::assertMatchesRegularExpression(
                '~'.preg_quote($key, '~').'\s+\S+\s+\d+\s+'.preg_quote($texts['creator'], '~').'~',
                $exiv2,
            );
        }
        self::assertSame(
            \count((array) self::everything()->keywords),
            substr_count($exiv2, 'Iptc.Application2.Keywords'),
        );
    }

    /** @return iterable<string, array{string, PictureFile}> */
    public static function withOlder(): iterable
    {
        foreach (self::files() as $name => $file) {
            if (!\in_array($name, ['PNG', 'sidecar'], true)) {
                yield $name => $file;
            }
        }
    }

    #[DataProvider('files')]
    public function testWhatExiftoolWroteIsReadEqualAndKept(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $arguments = [];
        foreach (self::NAMES as $field => $tag) {
            $arguments[] = "-$tag=".('copyright_marked' === $field ? 'True' : self::everything()->texts[$field]);
        }
        foreach ((array) self::everything()->keywords as $keyword) {
            $arguments[] = '-XMP-dc:Subject='.$keyword;
        }
        ExifTool::write(
            $path,
            [
                ...$arguments,
                '-XMP-xmp:Rating=4',
                '-XMP-dc:Description-de=Laternen auf dem Wasser',
                '-XMP-aux:SerialNumber=417',
                '-XMP-mwg-kw:KeywordInfo={Hierarchy=[{Keyword=Places,Children=[{Keyword=Tarn '
                    .'Hollow,Children=[{Keyword=Quay}]}]}]}',
            ],
        );
        self::assertEquals(self::everything(), $kind->read(FileBytes::open($path)));
        $this->write($kind, $path, new Metadata(['headline' => 'Another one']));
        $theirs = self::grouped($path);
        self::assertSame(
            ['Another one', 'Laternen auf dem Wasser', '417', self::everything()->texts['title']],
            [
                $theirs['XMP-photoshop:Headline'] ?? null,
                $theirs['XMP-dc:Description-de'] ?? null,
                (string) (\is_scalar($theirs['XMP-aux:SerialNumber'] ?? null) ? $theirs['XMP-aux:SerialNumber'] : ''),
                $theirs['XMP-dc:Title'] ?? null,
            ],
        );
    }

    #[DataProvider('files')]
    public function testWhatExiv2WroteIsReadEqual(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $lines = [
            'set Xmp.dc.creator XmpSeq Ínes Varga-Holt',
            'set Xmp.dc.rights LangAlt lang=x-default © 2026 Ines Varga-Holt',
            'set Xmp.dc.description LangAlt lang=x-default Laternen — ランタン 🏮',
            'set Xmp.photoshop.Headline XmpText Lantern Regatta',
            'set Xmp.xmpRights.Marked XmpText True',
            'set Xmp.xmp.Rating XmpText 3',
            'set Xmp.iptc.CreatorContactInfo/Iptc4xmpCore:CiEmailWork XmpText ines@example.org',
        ];
        foreach (['lantern', 'Ténèbre', '港町'] as $keyword) {
            $lines[] = 'set Xmp.dc.subject XmpBag '.$keyword;
        }
        $commands = $this->folder.'/commands';
        file_put_contents($commands, implode("\n", $lines)."\n");
        exec('exiv2 -m '.escapeshellarg($commands).' '.escapeshellarg($path).' 2>&1', $output, $status);
        self::assertSame(0, $status, implode("\n", $output));
        $read = $kind->read(FileBytes::open($path));
        self::assertSame(
            [
                'Ínes Varga-Holt',
                '© 2026 Ines Varga-Holt',
                'Laternen — ランタン 🏮',
                'Lantern Regatta',
                'true',
                'ines@example.org',
            ],
            array_map(
                $read->text(...),
                [
                    Field::Creator,
                    Field::Copyright,
                    Field::Description,
                    Field::Headline,
                    Field::CopyrightMarked,
                    Field::ContactMail,
                ],
            ),
        );
        self::assertSame([['lantern', 'Ténèbre', '港町'], 3], [$read->keywords, $read->rating]);
    }

    #[DataProvider('files')]
    public function testWritingWhatWasReadChangesNothing(string $name, PictureFile $kind): void
    {
        $this->limitTo(40);
        $words = Generators::map(
            static fn (array $letters): string => trim(Metadata::clean(implode('', $letters))),
            Generators::seq(
                Generators::elements(
                    'a',
                    'B',
                    'é',
                    "e\u{301}",
                    'ß',
                    '港',
                    '🏮',
                    'ש',
                    '&',
                    '<',
                    '"',
                    ' ',
                    "\n",
                    ',',
                    "\u{202E}",
                    "\x0B",
                ),
            ),
        );
        $this->forAll(
            $words,
            $words,
            Generators::seq($words),
            Generators::choose(-1, 5),
        )->then(function (string $title, string $creator, array $keywords, int $rating) use ($name, $kind): void {
            $path = $this->sample($name);
            $picture = MetadataCopy::pictureDigest($kind, FileBytes::open($path));
            $keywords = array_values(
                array_unique(
                    array_filter(
                        $keywords,
                        static fn (mixed $keyword): bool => \is_string($keyword) && '' !== $keyword,
                    ),
                ),
            );
            $this->write(
                $kind,
                $path,
                new Metadata(
                    array_filter(
                        ['title' => $title, 'creator' => $creator, 'description' => $title.$creator],
                        static fn (string $text): bool => '' !== $text,
                    ),
                    $keywords,
                    [],
                    $rating,
                ),
            );
            $read = $kind->read(FileBytes::open($path));
            self::assertSame(
                [$title, $keywords, $rating],
                [$read->text(Field::Title) ?? '', $read->keywords ?? [], $read->rating],
            );
            $this->write($kind, $path, $read);
            self::assertEquals($read, $kind->read(FileBytes::open($path)));
            self::assertSame($picture, MetadataCopy::pictureDigest($kind, FileBytes::open($path)));
        });
    }

    #[DataProvider('files')]
    public function testTwoHundredKeywordsAndALongDescription(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $metadata = new Metadata(
            ['description' => str_repeat('Ein langer Abend am Wasser, 港町. ', 62)],
            array_map(static fn (int $n): string => "keyword $n", range(1, 200)),
        );
        $metadata = new Metadata(['description' => trim($metadata->texts['description'])], $metadata->keywords);
        $this->write($kind, $path, $metadata);
        $theirs = self::grouped($path);
        self::assertSame(
            [$metadata->texts['description'], $metadata->keywords],
            [$theirs['XMP-dc:Description'] ?? null, $theirs['XMP-dc:Subject'] ?? null],
        );
        self::assertGreaterThan(1900, mb_strlen($metadata->texts['description']));
    }

    #[DataProvider('files')]
    public function testWrittenTwiceItIsTheSameAndNoLonger(string $name, PictureFile $kind): void
    {
        $path = $this->sample($name);
        $this->write($kind, $path, self::everything());
        $once = (int) filesize($path);
        $this->write($kind, $path, self::everything());
        clearstatcache();
        self::assertEquals(self::everything(), $kind->read(FileBytes::open($path)));
        self::assertLessThan(
            $once + 1500,
            filesize($path),
            'only the history grows, and where it does not fit, its directory',
        );
    }

    private function write(PictureFile $kind, string $path, Metadata $metadata): void
    {
        $new = $this->folder.'/new';
        @unlink($new);
        MetadataCopy::of($kind, FileBytes::open($path), $metadata, new History(
            new \DateTimeImmutable('2026-05-03 10:00:00 UTC'),
        ), static function (string $bytes) use ($new): void {
            file_put_contents($new, $bytes, \FILE_APPEND);
        }, static fn (): FileBytes => FileBytes::open($new));
        rename($new, $path);
    }

    private function sample(string $name): string
    {
        $path = $this->folder.'/'.$name;
        $image = imagecreatetruecolor(60, 40);
        self::assertInstanceOf(\GdImage::class, $image);
        imagefilledrectangle($image, 10, 10, 50, 30, 0xCC8844);
        match ($name) {
            'a.jpg' => imagejpeg($image, $path),
            'exif.jpg' => file_put_contents($path, Samples::of('jpg')),
            'a.png' => imagepng($image, $path),
            'a.tif' => imagepng($image, $path.'.png') && null === shell_exec(
                'vips copy '.escapeshellarg($path.'.png').' '.escapeshellarg($path),
            ),
            'a.dng' => file_put_contents($path, Samples::of('dng')),
            default => file_put_contents(
                $path,
                SidecarFile::fresh(new Metadata(), new History(new \DateTimeImmutable())),
            ),
        };

        return $path;
    }

    private static function everything(): Metadata
    {
        $texts = [];
        foreach (Field::cases() as $field) {
            $texts[$field->value] = 'The '.str_replace('_', ' ', $field->value);
        }
        $texts = array_merge($texts, [
            'creator' => 'Ínes Varga-Holt', 'copyright' => '© 2026 Ines Varga-Holt', 'copyright_marked' => 'true',
            'title' => 'Lantern Regatta', 'headline' => 'Laternen — ランタン 🏮',
            'description' => "Lanterns on the water & <light>,\nשלום", 'date_created' => '2026-05-02T20:29:10',
            'country_code' => 'GBR', 'shown_country_code' => 'GBR', 'city' => 'Tarn Hollow',
            'web_statement' => 'https://example.org/rights', 'contact_web' => 'https://example.org',
            'licensor_web' => 'https://example.org/licence', 'orientation' => '6',
        ]);

        return new Metadata($texts, ['lantern', 'Ténèbre', '港町'], [['Places', 'Tarn Hollow', 'Quay']], 4);
    }

    /** Where programs look for it: Exif's first directory (vips turns by it, and so do browsers). */
    #[DataProvider('rotated')]
    public function testARotatedPictureIsShownSoByOtherPrograms(string $name, PictureFile $kind, int $orientation): void
    {
        $path = $this->sample($name);
        if ('a.jpg' !== $name) {
            ExifTool::write($path, ['-IFD0:Orientation#='.$orientation]);
        }
        $before = self::pixels($path, 'rot %s %s d90');
        foreach ([Rotation::Right, Rotation::Left, Rotation::Left] as $rotation) {
            $orientation = $rotation->of(Orientation::from($orientation))->value;
            $this->write($kind, $path, new Metadata(['orientation' => (string) $orientation]));
            $said = self::grouped($path, '-n');
            self::assertSame(
                [$orientation, $orientation],
                [$said['IFD0:Orientation'] ?? null, $said['XMP-tiff:Orientation'] ?? null],
            );
            if (Rotation::Right === $rotation) {
                self::assertSame($before, self::pixels($path, 'copy %s %s'), 'a quarter clockwise, pixel by pixel');
            }
        }
        self::assertSame($before, self::pixels($path, 'rot %s %s d180'), 'and a quarter anticlockwise');
    }

    /** @return iterable<string, array{string, PictureFile, int}> */
    public static function rotated(): iterable
    {
        foreach (range(1, 8) as $orientation) {
            yield "JPEG with Exif, shown as $orientation" => ['exif.jpg', new JpegFile(), $orientation];
        }
        yield 'JPEG that had none' => ['a.jpg', new JpegFile(), 1];
        yield 'TIFF' => ['a.tif', new TiffFile(), 8];
    }

    /** @param string $then an operation of vips on the picture as vips shows it, from a file into another one */
    private static function pixels(string $path, string $then): string
    {
        [$upright, $done] = [$path.'.v', $path.'.ppm'];
        exec(
            \sprintf('vips autorot %s %s && vips ', escapeshellarg($path), escapeshellarg($upright))
                .\sprintf($then, escapeshellarg($upright), escapeshellarg($done)).' 2>&1',
            $output,
            $result,
        );
        self::assertSame(0, $result, implode("\n", $output));

        return (string) preg_replace('/#.*\n/', '', (string) file_get_contents($done), 1); // when it was made
    }

    /** @return array<mixed> exiftool's answer, each tag with its group */
    private static function grouped(string $path, string $option = ''): array
    {
        $json = json_decode(
            (string) shell_exec("exiftool -json -G1 -charset iptc=UTF8 $option ".escapeshellarg($path)),
            true,
        );

        return \is_array($json) && \is_array($json[0]) ? $json[0] : [];
    }

    /** @return list<string> */
    private static function warnings(string $path): array
    {
        exec('exiftool -validate -warning -error -a '.escapeshellarg($path), $lines);

        return array_values(
            array_filter($lines, static fn (string $line): bool => !str_starts_with($line, 'Validate')),
        );
    }
}
