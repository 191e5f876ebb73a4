<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Bytes;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\JpegPayload;
use Velvet\Core\Bytes\JpegSegment;
use Velvet\Core\Bytes\JpegSegments;
use Velvet\Core\Bytes\PngChunk;
use Velvet\Core\Bytes\PngChunks;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Bytes\TiffEdit;
use Velvet\Core\Bytes\TiffType;
use Velvet\Core\Bytes\TiffWriter;
use Velvet\Core\Tests\TemporaryFolder;

/** Containers as facts, metadata and DNG read them: all of them as far as they go, and what is wrong in words. */
final class ContainersTest extends TestCase
{
    use TemporaryFolder;

    public function testSegmentsOfAJpegUpToItsScan(): void
    {
        $scan = "\xFF\xDA\0\x04ab".'coded data';
        $bytes = JpegSegments::START
            .JpegSegment::bytes(0xE1, JpegPayload::Exif->signature().'a TIFF structure')
            ."\xFF\xFF" // fill bytes (T.81, B.1.1.2)
            .JpegSegment::bytes(0xE1, 'of somebody else')
            .JpegSegment::bytes(0xFE, 'a comment')
            .JpegSegment::bytes(0xC0, '12345678');
        $found = JpegSegments::of(FileBytes::open($this->file('a', 'before'.$bytes.$scan)), 6);
        self::assertSame(
            [[0xE1, JpegPayload::Exif, true], [0xE1, null, true], [0xFE, null, true], [0xC0, null, false]],
            array_map(
                static fn (JpegSegment $one): array => [$one->marker, $one->holds, $one->isBesidePicture()],
                $found->segments,
            ),
        );
        self::assertSame(
            [null, 6 + \strlen($bytes), 6 + \strlen($bytes) + 6],
            [$found->fault, $found->scan, $found->data],
        );
        self::assertSame([6 + 2 + 4 + 6, 16], [$found->segments[0]->content(), $found->segments[0]->contentLength()]);
    }

    public function testAJpegThatBreaksOffIsReadAsFarAsItGoes(): void
    {
        $one = JpegSegment::bytes(0xE0, 'JFIF');
        foreach ([
            'it does not begin as a JPEG does' => ['no JPEG', 0],
            'its segments break off before the picture' => [JpegSegments::START.$one, 1],
            'one of its segments is longer than the file' => [JpegSegments::START.$one."\xFF\xE1\0\x20abc", 2],
            'the length of one of its segments is impossible' => [JpegSegments::START.$one."\xFF\xE1\0\0abc", 1],
        ] as $fault => [$bytes, $whole]) {
            $found = JpegSegments::of(FileBytes::open($this->file('a', $bytes)));
            self::assertSame([$fault, $whole], [$found->fault, \count($found->segments)]);
            try {
                $found->whole();
                self::fail('It is not whole.');
            } catch (StructureBroken $e) {
                self::assertSame($fault, $e->getMessage());
            }
        }
    }

    public function testAPngOfManyChunksIsWhole(): void // encoders write IDAT chunks of 8 KiB (common practice)
    {
        $png = PngChunks::SIGNATURE.PngChunk::bytes(PngChunks::HEADER, str_repeat("\0", 13))
            .str_repeat(PngChunk::bytes('IDAT', 'data'), 6000)
            .PngChunk::bytes(PngChunks::TEXT, PngChunks::XMP.'<packet/>')
            .PngChunk::bytes('IEND', '');
        $found = PngChunks::of(FileBytes::open($this->file('a', $png.'behind')));
        self::assertSame([null, 6003, '<packet/>'], [$found->fault, \count($found->chunks), $found->xmp()]);
        $cut = PngChunks::of(FileBytes::open($this->file('b', substr($png, 0, 100))));
        self::assertSame('its chunks break off', $cut->fault);
        self::assertSame([PngChunks::HEADER, 'IDAT'], \array_slice(array_column($cut->chunks, 'type'), 0, 2));
    }

    public function testIimIsReadAsFarAsItGoesWhereThatIsEnough(): void
    {
        $bytes = "\x1C\x02\x50\0\x04Ines\x1C\x02\x74\xFF\xFFlong";
        self::assertSame(['Ines'], IimBlock::readable($bytes)->texts(80));
        $this->expectException(StructureBroken::class);
        IimBlock::read($bytes);
    }

    public function testFieldsAreCopiedInLittleEndianOrder(): void
    {
        $tiff = new TiffWriter(false);
        $bytes = $tiff->finished($tiff->directory([
            256 => [TiffWriter::SHORT, [0x0102, 0x0304]],
            271 => [TiffWriter::ASCII, 'Tarn Optical'],
            282 => [TiffWriter::RATIONAL, [1, 2]],
            700 => [TiffWriter::BYTE, str_repeat('x', 100)],
        ]));
        $block = TiffBlock::at(FileBytes::open($this->file('a', $bytes)), 0, \strlen($bytes));
        self::assertNotNull($block);
        self::assertSame([
            256 => [TiffWriter::SHORT, "\x02\x01\x04\x03"],
            271 => [TiffWriter::ASCII, "Tarn Optical\0"],
            282 => [TiffWriter::RATIONAL, "\1\0\0\0\2\0\0\0"],
        ], $block->directory($block->firstIfd)->copied(50), 'what is larger is left out');
        self::assertNotNull($block->ifd($block->firstIfd));
        self::assertNull($block->ifd($block->firstIfd), 'a directory that comes again is a cycle');
        self::assertSame(4, \count($block->directory($block->firstIfd)->raw()), 'but it can be asked for');
    }

    /** TIFF 6.0, section 2: types 6, 8 and 9. */
    public function testSignedValues(): void
    {
        $tiff = new TiffWriter(false);
        $bytes = $tiff->finished($tiff->directory([
            1 => [6, "\xFF"], 2 => [8, "\xFF\xFE"], 3 => [9, "\0\0\0\x05"], 4 => [9, "\x80\0\0\0"],
            5 => [TiffWriter::LONG, [5]],
        ]));
        $block = TiffBlock::at(FileBytes::open($this->file('a', $bytes)), 0, \strlen($bytes));
        self::assertNotNull($block);
        $ifd = $block->directory($block->firstIfd);
        self::assertSame(
            [-1, -2, 5, -2_147_483_648, null, null],
            array_map($ifd->signed(...), [1, 2, 3, 4, 5, 6]),
        );
        self::assertSame([null, 5], [$ifd->integer(3), $ifd->integer(5)], 'it is asked for as what it is');
    }

    public function testADirectoryIsReadWhereItWasWritten(): void
    {
        $tiff = new TiffWriter();
        $bytes = $tiff->finished(
            $tiff->directory([256 => [TiffWriter::SHORT, 4], 0x013B => [TiffWriter::ASCII, 'Nobody at all']]),
        );
        $edit = TiffEdit::of(FileBytes::open($this->file('a', $bytes)), 0, \strlen($bytes));
        $edit->set(0x013B, TiffType::Ascii, "Ines\0");
        $edit->setInExif(0x9286, TiffType::Undefined, 'a comment that is longer than four bytes');
        $edit->set(0x8298, TiffType::Ascii, "© 2026 Ines Varga-Holt\0");
        $edit->set(256, TiffType::Short, '');
        $after = TiffEdit::of(FileBytes::open($this->file('b', $edit->bytes())), 0, \strlen($edit->bytes()));
        self::assertSame(
            ["Ines\0", "© 2026 Ines Varga-Holt\0", 'a comment that is longer than four bytes', null],
            [$after->value(0x013B), $after->value(0x8298), $after->value(0x9286, true), $after->value(256)],
        );
        self::assertStringNotContainsString('Nobody', $edit->bytes(), 'what was there before is gone');
        $twice = "II\x2A\0\x08\0\0\0\2\0".str_repeat("\0\1\3\0\1\0\0\0\4\0\0\0", 2)."\0\0\0\0";
        $edit = TiffEdit::of(FileBytes::open($this->file('c', $twice)), 0, \strlen($twice));
        self::assertSame($twice, $edit->bytes(), 'what is broken stays as it is where nothing is to change');
        $this->expectException(StructureBroken::class);
        $this->expectExceptionMessage('0x0100 twice');
        $edit->set(256, TiffType::Short, "\1\0");
        $edit->bytes();
    }
}
