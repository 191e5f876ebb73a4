<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Bytes\TiffWriter as DngTiffWriter;
use Velvet\Core\Dng\RawTag;

final class TiffReaderTest extends ReaderTestCase
{
    public function testTheRawImageCountsAndNotItsPreview(): void
    {
        $facts = $this->read('tif', Samples::tiffEp(64, 48, "\xFF\xD8\xFF\xD9"));
        self::assertSame([64, 48], [$facts->size->width, $facts->size->height]);
        self::assertFalse($facts->pictures->isViewable);
    }

    public function testFindsThePreview(): void
    {
        $preview = "\xFF\xD8\xFF".str_repeat('p', 500)."\xFF\xD9";
        $bytes = Samples::tiffEp(64, 48, $preview);
        $range = $this->read('tif', $bytes)->pictures->preview;
        self::assertNotNull($range);
        self::assertSame($preview, substr($bytes, $range->offset, $range->length));
    }

    public function testACycleOfDirectoriesEnds(): void
    {
        // a directory whose successor is itself
        $facts = $this->read('tif', "II\x2A\0\x08\0\0\0".pack('v', 1).pack('vvVV', 0x0100, 4, 1, 77).pack('V', 8));
        self::assertNull($facts->time?->at);
    }

    public function testTilesThatLieBeyondTheEndAreNoticed(): void
    {
        $tiled = static function (int $tileBytes): string {
            $tiff = new DngTiffWriter();
            $tiles = [$tiff->data(str_repeat('a', 4096)), $tiff->data(str_repeat('b', $tileBytes))];

            return $tiff->finished($tiff->directory([
                RawTag::NEW_SUBFILE_TYPE => [DngTiffWriter::LONG, 0], RawTag::WIDTH => [DngTiffWriter::LONG, 128],
                RawTag::LENGTH => [DngTiffWriter::LONG, 64], RawTag::BITS_PER_SAMPLE => [DngTiffWriter::SHORT, 8],
                RawTag::COMPRESSION => [DngTiffWriter::SHORT, 1], RawTag::PHOTOMETRIC => [DngTiffWriter::SHORT, 1],
                RawTag::SAMPLES_PER_PIXEL => [DngTiffWriter::SHORT, 1],
                RawTag::TILE_WIDTH => [DngTiffWriter::LONG, 64], RawTag::TILE_LENGTH => [DngTiffWriter::LONG, 64],
                RawTag::TILE_OFFSETS => [DngTiffWriter::LONG, $tiles],
                RawTag::TILE_BYTE_COUNTS => [DngTiffWriter::LONG, [4096, 4096]],
            ]));
        };
        self::assertNotContains('cut_short', array_column($this->read('tif', $tiled(4096))->problems, 'code'));
        self::assertContains('cut_short', array_column($this->read('tif', $tiled(100))->problems, 'code'));
    }

    public function testCountsBeyondTheFileAreCapped(): void
    {
        $facts = $this->read(
            'tif',
            "II\x2A\0\x08\0\0\0".pack('v', 1).pack('vvVV', 0x010F, 2, 0xFFFFFFFF, 8).pack('V', 0),
        );
        self::assertNull($facts->camera->model);
    }

    /** LibRaw, written by others, sees the same picture in the file. */
    public function testLibRawReadsTheSampleToo(): void
    {
        $path = $this->file('raw.tif', Samples::of('tif'));
        $output = (string) shell_exec('raw-identify -v '.escapeshellarg($path).' 2>&1');
        self::assertStringContainsString('Tarn Optical Heron 5', $output);
        self::assertMatchesRegularExpression('/Full size:\s+64 x 48/', $output);
    }
}
