<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Metadata;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\ImageResources;
use Velvet\Core\Bytes\JpegPayload;
use Velvet\Core\Bytes\JpegSegment;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\TiffEdit;
use Velvet\Core\Bytes\TiffType;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Bytes\XmpForm;
use Velvet\Core\Bytes\XmpPacket;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Core\Tests\TemporaryFolder;

/** What is there already survives, and what is broken is refused with a reason and left alone. */
final class MetadataSafetyTest extends TestCase
{
    use TemporaryFolder;

    private const INPUTS = 20_000;
    private const MEMORY = 256 * 1024 * 1024;

    #[DataProvider('packets')]
    public function testAPacketThatIsNoneIsRefusedWithAReason(string $packet, string $reason): void
    {
        $this->expectException(StructureBroken::class);
        $this->expectExceptionMessage($reason);
        XmpPacket::read($packet);
    }

    /** @return iterable<string, array{string, string}> */
    public static function packets(): iterable
    {
        yield 'empty' => ['', 'not well formed (line 1'];
        yield 'broken on line 3' => [
            "<x:xmpmeta xmlns:x=\"adobe:ns:meta/\">\n\n<b></x:xmpmeta>",
            'not well formed (line 3',
        ];
        yield 'no RDF' => ['<a/>', 'no rdf:RDF'];
        yield 'an entity' => ['<!DOCTYPE a [<!ENTITY lol "lol">]><a>&lol;</a>', 'declares a document type'];
        yield 'another encoding' => ['<?xml version="1.0" encoding="ISO-8859-1"?><a/>', 'ISO-8859-1'];
        yield 'no UTF-8' => ["<a>\xFF</a>", 'no UTF-8'];
    }

    public function testAPacketInUtf16IsRead(): void // ISO 16684-1, 7.1 allows it
    {
        $packet = XmpPacket::fresh();
        $packet->set(XmpForm::LangAlt, 'dc:title', '', 'Kiln “opening”');
        $utf16 = "\xFF\xFE".mb_convert_encoding(
            '<?xml version="1.0" encoding="UTF-16"?>'.$packet->xml(),
            'UTF-16LE',
            'UTF-8',
        );
        self::assertSame('Kiln “opening”', XmpPacket::read($utf16)->text(XmpForm::LangAlt, 'dc:title'));
    }

    public function testAPacketTooLongForOneSegmentGoesIntoTheExtensionAndComesBack(): void
    {
        $path = $this->file('a.jpg', Samples::plainJpeg());
        $long = str_repeat('Lanterns on the water. ', 6000);
        $this->write(new JpegFile(), $path, new Metadata(['instructions' => $long, 'title' => 'Regatta']));
        $this->write(new JpegFile(), $path, new Metadata(['headline' => 'Second']));
        $read = (new JpegFile())->read(FileBytes::open($path));
        self::assertSame(
            [$long, 'Regatta', 'Second'],
            [$read->text(Field::Instructions), $read->text(Field::Title), $read->text(Field::Headline)],
        );
        // exiftool puts both parts together, too
        self::assertSame(
            trim($long),
            trim((string) shell_exec('exiftool -s3 -XMP-photoshop:Instructions '.escapeshellarg($path))),
        );
    }

    public function testWhatLiesBehindThePictureAndSegmentsThatNobodyKnowsStayInOrder(): void
    {
        $segment = static fn (int $marker, string $payload): string => "\xFF".\chr($marker)
            .pack('n', \strlen($payload) + 2).$payload;
        $plain = Samples::plainJpeg();
        $path = $this->file(
            'a.jpg',
            substr($plain, 0, 2).$segment(0xE7, 'seven')."\xFF".$segment(0xFE, 'a comment').$segment(0xE4, 'four')
                .substr($plain, 2).'a movie behind it',
        );
        $this->write(new JpegFile(), $path, new Metadata(['title' => 'Regatta'], ['quay']));
        $bytes = (string) file_get_contents($path);
        self::assertMatchesRegularExpression('/seven.*a comment.*four.*a movie behind it$/s', $bytes);
        self::assertStringContainsString(substr($plain, (int) strpos($plain, "\xFF\xDB")), $bytes);
    }

    public function testTheIndexOfAMultiPictureFileStillPointsAtItsPictures(): void
    {
        $plain = Samples::plainJpeg();
        $index = static fn (int $offset): string => "MPF\0MM\0\x2A\0\0\0\x08".pack('n', 1)
            .pack('nnNN', 0xB002, 7, 32, 26).pack('N', 0)
            .pack('NNNnn', 0x030000, 100, 0, 0, 0).pack('NNNnn', 0, 200, $offset, 0, 0);
        $build = static function (int $offset) use ($plain, $index): string {
            $payload = $index($offset);
            $resources = "Photoshop 3.0\0".'8BIM'.pack('n', 0x03ED)."\0\0".pack('N', 4).'dots';

            return substr($plain, 0, 2)."\xFF\xE2".pack('n', \strlen($payload) + 2).$payload
                ."\xFF\xED".pack('n', \strlen($resources) + 2).$resources.substr($plain, 2);
        };
        $base = 2 + 4 + 4; // behind the start, the segment's head and its signature
        $path = $this->file('a.jpg', $build(\strlen($build(0)) - $base).'THE SECOND PICTURE');
        $this->write(new JpegFile(), $path, new Metadata(['title' => 'Regatta']));
        $bytes = (string) file_get_contents($path);
        $header = (int) strpos($bytes, "MPF\0") + 4;
        $entry = unpack('N', $bytes, $header + 26 + 16 + 8);
        self::assertIsArray($entry);
        self::assertSame('THE SECOND PICTURE', substr($bytes, $header + (\is_int($entry[1]) ? $entry[1] : 0)));
        self::assertStringContainsString(
            '8BIM'.pack('n', 0x03ED)."\0\0".pack('N', 4).'dots',
            $bytes,
            'another program\'s resource is kept',
        );
    }

    public function testIimIsCutAtAWholeCharacterAndSaysSo(): void
    {
        $block = IimBlock::read('');
        self::assertTrue($block->set(90, str_repeat('é', 20), 32)); // 32 bytes at most (IIM 4.2, dataset 2:90)
        self::assertSame([str_repeat('é', 16)], $block->texts(90));
        self::assertFalse($block->set(101, 'Saltmarsh', 64));
        self::assertStringStartsWith(
            "\x1C\x01\x5A\0\x03\x1B%G\x1C\x02\0\0\x02\0\x04",
            $block->bytes(),
            'UTF-8 is said first, then the version of record 2',
        );
        $path = $this->file('a.jpg', Samples::plainJpeg());
        $notes = $this->write(new JpegFile(), $path, new Metadata(['city' => str_repeat('é', 20)]));
        self::assertSame(
            ['The city is longer than older readers (IIM) can take: it is whole in XMP and was cut there.'],
            $notes,
        );
        self::assertSame(str_repeat('é', 20), (new JpegFile())->read(FileBytes::open($path))->text(Field::City));
    }

    public function testForeignDatasetsInLatin1BecomeUtf8(): void
    {
        $block = IimBlock::read("\x1C\x02\x37\0\x0820260502\x1C\x02\x65\0\x05\xD6land");
        self::assertSame(['Öland'], $block->texts(101));
        self::assertSame(['20260502'], $block->texts(55));
    }

    public function testCharactersThatXmlForbidsAreTakenOutAndNormalForm(): void
    {
        self::assertSame("a\tb\ncé🏮", Metadata::clean("a\tb\r\n\x00\x0B\u{FFFE}ce\u{0301}🏮"));
        self::assertSame('?', Metadata::clean("\xFF"));
    }

    /** @param \Closure(): PictureFile $kind */
    #[DataProvider('kinds')]
    public function testBrokenFilesAreRefusedAndNeverCrash(string $format, \Closure $kind): void
    {
        $sample = match ($format) {
            'xmp' => SidecarFile::fresh(
                new Metadata(['title' => 'Regatta', 'city' => 'Tarn Hollow'], ['a', 'b'], [['a', 'b']]),
                new History(new \DateTimeImmutable()),
            ),
            default => Samples::of($format),
        };
        mt_srand(7);
        $refused = 0;
        for ($n = 0; $n < intdiv(self::INPUTS, 4); ++$n) {
            $bytes = $sample;
            for ($i = mt_rand(1, 8); $i > 0; --$i) {
                $at = mt_rand(0, min(\strlen($bytes) - 1, 0 === $n % 2 ? 600 : \PHP_INT_MAX));
                $bytes = 0 === mt_rand(0, 9)
                    ? substr($bytes, 0, $at + 1)
                    : substr_replace($bytes, \chr(mt_rand(0, 255)), $at, 1);
            }
            file_put_contents($this->folder.'/fuzz', $bytes);
            try {
                $file = FileBytes::open($this->folder.'/fuzz');
                $kind()->read($file);
                $kind()->picture($file);
                $kind()->with(
                    $file,
                    new Metadata(['title' => 'Regatta', 'creator' => 'Ines Varga-Holt'], ['quay']),
                    new History(new \DateTimeImmutable()),
                );
            } catch (StructureBroken $e) {
                ++$refused;
                self::assertNotSame('', $e->getMessage());
            }
        }
        self::assertGreaterThan(100, $refused);
        self::assertLessThan(self::MEMORY, memory_get_peak_usage(true));
    }

    /** @return iterable<string, array{string, \Closure(): PictureFile}> */
    public static function kinds(): iterable
    {
        yield 'JPEG' => ['jpg', static fn (): PictureFile => new JpegFile()];
        yield 'TIFF' => ['dng', static fn (): PictureFile => new TiffFile()];
        yield 'PNG' => ['png', static fn (): PictureFile => new PngFile()];
        yield 'sidecar' => ['xmp', static fn (): PictureFile => new SidecarFile()];
    }

    public function testBrokenResourcesAreRefused(): void
    {
        $this->expectException(StructureBroken::class);
        ImageResources::read("8BIM\x04\x04\0\0\xFF\xFF\xFF\xFF");
    }

    public function testATiffStructureKeepsEveryOffset(): void
    {
        $before = Samples::of('tif');
        $edit = TiffEdit::of(FileBytes::open($this->file('a.tif', $before)), 0, \strlen($before));
        $edit->set(0x013B, TiffType::Ascii, "Ines Varga-Holt\0");
        $edit->set(700, TiffType::Byte, '<x/>long enough');
        $after = $edit->bytes();
        $changed = 0;
        for ($i = 8; $i < \strlen($before); ++$i) {
            $changed += $before[$i] === $after[$i] ? 0 : 1;
        }
        self::assertLessThan(64, $changed, 'nothing moves: the old values and fields at most are changed');
    }

    /** A directory grows by some of its fields while others of it change: it is written once, with all of them. */
    public function testATiffWithXmpButWithoutCreatorGetsBoth(): void
    {
        $path = $this->file('a.tif', $this->plainTiff());
        shell_exec('exiftool -q -overwrite_original -XMP-dc:Title=Regatta -Artist= -Copyright= '.escapeshellarg($path));
        $this->write(
            new TiffFile(),
            $path,
            new Metadata(['creator' => 'Ines Varga-Holt', 'copyright' => '© 2026 Ines Varga-Holt'], ['quay']),
        );
        self::assertSame(
            ['Ines Varga-Holt', '© 2026 Ines Varga-Holt', 'Ines Varga-Holt', 'Regatta', 'quay'],
            $this->tags($path, ['IFD0:Artist', 'IFD0:Copyright', 'XMP-dc:Creator', 'XMP-dc:Title', 'IPTC:Keywords']),
        );
    }

    public function testATiffWithoutIimLosesItsOldOwnerInExifTooWhenTheNewNameIsLonger(): void
    {
        $path = $this->file('a.tif', $this->plainTiff());
        shell_exec('exiftool -q -overwrite_original -Artist=Nobody -IPTC:all= -XMP:all= '.escapeshellarg($path));
        $this->write(new TiffFile(), $path, new Metadata(['creator' => 'Ines Varga-Holt and her friends']));
        self::assertSame(
            ['Ines Varga-Holt and her friends', 'Ines Varga-Holt and her friends'],
            $this->tags($path, ['IFD0:Artist', 'XMP-dc:Creator']),
        );
    }

    /** Trees as other programs write them (MWG guidelines 2.0, 5.4.4, from memory), with their Applied flags. */
    public function testKeywordTreesOfOtherProgramsAreReadAndTheirFlagsKept(): void
    {
        $path = $this->file('a.jpg', Samples::plainJpeg());
        shell_exec(
            'exiftool -q -overwrite_original '.escapeshellarg(
                '-XMP-mwg-kw:HierarchicalKeywords={Keyword=Places,Applied=true,'
                    .'Children=[{Keyword=Quay},{Keyword=Mole}]}',
            ).' '.escapeshellarg($path),
        );
        $read = (new JpegFile())->read(FileBytes::open($path));
        self::assertSame([['Places'], ['Places', 'Quay'], ['Places', 'Mole']], $read->paths);
        $this->write(new JpegFile(), $path, new Metadata(['title' => 'Regatta'], ['Places', 'Quay'], $read->paths));
        self::assertSame($read->paths, (new JpegFile())->read(FileBytes::open($path))->paths);
        self::assertSame(
            ['Places', 'True', 'Quay, Mole'],
            $this->tags($path, [
                'XMP-mwg-kw:HierarchicalKeywords1',
                'XMP-mwg-kw:HierarchicalKeywords1Applied',
                'XMP-mwg-kw:HierarchicalKeywords2',
            ]),
        );
        $described = XmpPacket::read(
            '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
                .'<rdf:Description xmlns:mwg-kw="http://www.metadataworkinggroup.com/schemas/keywords/">'
                .'<mwg-kw:Keywords>'
                .'<rdf:Description><mwg-kw:Hierarchy><rdf:Bag><rdf:li><rdf:Description mwg-kw:Keyword="Places">'
                .'<mwg-kw:Children><rdf:Bag><rdf:li><rdf:Description mwg-kw:Keyword="Quay"/></rdf:li></rdf:Bag>'
                .'</mwg-kw:Children></rdf:Description></rdf:li></rdf:Bag></mwg-kw:Hierarchy></rdf:Description>'
                .'</mwg-kw:Keywords></rdf:Description></rdf:RDF></x:xmpmeta>',
        );
        self::assertSame([['Places', 'Quay']], $described->keywordPaths());
    }

    public function testAKeywordThatStandsByItselfIsReadAndTheFirstNameStays(): void
    {
        $sidecar = $this->file(
            'a.xmp',
            '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
                .'<rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/" '
                .'xmlns:xmpMM="http://ns.adobe.com/xap/1.0/mm/"><dc:subject>lantern</dc:subject>'
                .'<xmpMM:PreservedFileName>_T0A0001.TRW</xmpMM:PreservedFileName></rdf:Description></rdf:RDF>'
                .'</x:xmpmeta>',
        );
        self::assertSame(['lantern'], (new SidecarFile())->read(FileBytes::open($sidecar))->keywords);
        $this->write(
            new SidecarFile(),
            $sidecar,
            new Metadata(['preserved_file_name' => 'T0001.TRW'], ['lantern', 'quay']),
        );
        self::assertSame(
            ['_T0A0001.TRW', 'lantern, quay'],
            $this->tags($sidecar, ['XMP-xmpMM:PreservedFileName', 'XMP-dc:Subject']),
        );
    }

    /** Text of desktop programs of before UTF-8; the code pages are those of iconv. */
    #[DataProvider('older')]
    public function testOlderTextIsKeptAsItWasMeant(string $codePage, string $text, string $other): void
    {
        $path = $this->file('a.jpg', Samples::plainJpeg());
        $set = static fn (int $dataset, string $value): string => pack(
            'CCCn',
            0x1C,
            2,
            $dataset,
            \strlen($value),
        ).$value;
        $iim = $set(80, (string) iconv('UTF-8', $codePage, $text)).$set(
            116,
            (string) iconv('UTF-8', $codePage, $other),
        );
        $resources = ImageResources::read('');
        $resources->setIim($iim);
        $jpeg = substr_replace(
            Samples::plainJpeg(),
            JpegSegment::bytes(0xED, JpegPayload::Resources->signature().$resources->bytes()),
            2,
            0,
        );
        file_put_contents($path, $jpeg);
        $this->write(new JpegFile(), $path, new Metadata([], ['quay']));
        self::assertSame([$text, $other], $this->tags($path, ['IPTC:By-line', 'IPTC:CopyrightNotice']));
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function older(): iterable
    {
        yield 'Western' => ['WINDOWS-1252', 'Zoë Müller–Façade', '© 2026 Zoë, 5 € “each”'];
        yield 'Latin-1' => ['ISO-8859-1', 'Jürgen Ñuñez', '© 2026'];
        yield 'Central European' => ['CP1250', 'Łucja Wiśniewska-Żółć', '© Jiří Dvořák'];
        yield 'one that tells for both' => ['CP1250', 'Piotr Półka', 'Łazienki 3'];
    }

    /** Signatures, padding and what lies behind are other programs' own (common practice). */
    public function testResourcesOfOtherProgramsStayByteForByte(): void
    {
        $one = "8BIM\x03\xED\0\0\0\0\0\x05abcde"; // its pad byte is missing
        $two = "AgHg\x0F\xA0\x03abc\0\0\0\x02xy";
        $three = "MeSa\0\x01\0\0\0\0\0\x03abc\0";
        $resources = ImageResources::read($one.$two.$three.'rest');
        self::assertSame($one.$two.$three.'rest', $resources->bytes());
        $resources->setIim('IIM');
        $own = "8BIM\x04\x04\0\0\0\0\0\x03IIM\08BIM\x04\x25\0\0\0\0\0\x10".md5('IIM', true);
        self::assertSame($one.$two.$three.$own.'rest', $resources->bytes());
        self::assertSame('IIM', ImageResources::read($resources->bytes())->iim());
        $resources->setIim('');
        self::assertSame($one.$two.$three.'rest', $resources->bytes());
    }

    /** A TIFF of 4 by 2 grey pixels in one strip, with nothing said of it. */
    private function plainTiff(): string
    {
        $tiff = new TiffWriter();
        $strip = $tiff->data('12345678');

        return $tiff->finished($tiff->directory([
            256 => [TiffWriter::SHORT, 4], 257 => [TiffWriter::SHORT, 2], 258 => [TiffWriter::SHORT, 8],
            259 => [TiffWriter::SHORT, 1], 262 => [TiffWriter::SHORT, 1], 273 => [TiffWriter::LONG, $strip],
            277 => [TiffWriter::SHORT, 1], 278 => [TiffWriter::SHORT, 2], 279 => [TiffWriter::LONG, 8],
        ]));
    }

    /**
     * @param list<string> $names
     *
     * @return list<string> as exiftool reads them
     */
    private function tags(string $path, array $names): array
    {
        return array_map(
            static fn (string $name): string => trim(
                (string) shell_exec("exiftool -s3 -charset iptc=UTF8 -$name ".escapeshellarg($path)),
            ),
            $names,
        );
    }

    /** @return list<string> */
    private function write(PictureFile $kind, string $path, Metadata $metadata): array
    {
        $new = $this->folder.'/new';
        @unlink($new);
        $notes = MetadataCopy::of($kind, FileBytes::open($path), $metadata, new History(
            new \DateTimeImmutable('2026-05-03 10:00:00 UTC'),
        ), static function (string $bytes) use ($new): void {
            file_put_contents($new, $bytes, \FILE_APPEND);
        }, static fn (): FileBytes => FileBytes::open($new));
        rename($new, $path);

        return $notes;
    }
}
