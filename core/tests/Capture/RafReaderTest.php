<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

/** RAF files built from their well-known structure; exiftool, written by others, reads them too. */
final class RafReaderTest extends ReaderTestCase
{
    public function testThePictureIsTheRawImageAndThePreviewTheJpeg(): void
    {
        $facts = $this->read('raf', Samples::of('raf'));
        self::assertSame([6000, 4000], [$facts->size->width, $facts->size->height]);
        self::assertSame(\strlen(Samples::of('jpg')), $facts->pictures->preview?->length);
        self::assertSame(160, $facts->pictures->preview?->offset);
        self::assertFalse($facts->pictures->isViewable);
    }
}
