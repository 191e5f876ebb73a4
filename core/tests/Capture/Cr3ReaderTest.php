<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

/** CR3 files built from their well-known structure: TIFF blocks and JPEGs in boxes; exiftool reads them too. */
final class Cr3ReaderTest extends ReaderTestCase
{
    public function testSizeThumbnailAndFullJpeg(): void
    {
        $bytes = Samples::of('cr3');
        $facts = $this->read('cr3', $bytes);
        self::assertSame([6000, 4000], [$facts->size->width, $facts->size->height]);
        self::assertSame(
            Samples::JPEG_IN_CR3,
            substr($bytes, $facts->pictures->thumbnail->offset ?? 0, $facts->pictures->thumbnail->length ?? 0),
        );
        self::assertSame(
            Samples::FULL_IN_CR3,
            substr($bytes, $facts->pictures->preview->offset ?? 0, $facts->pictures->preview->length ?? 0),
        );
    }
}
