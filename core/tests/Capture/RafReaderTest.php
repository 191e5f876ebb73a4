<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\RafReader;

/** RAF files built from their well-known structure; exiftool, written by others, reads them too. */
final class RafReaderTest extends CaptureReaderContract
{
    protected function reader(): CaptureReader
    {
        return new RafReader();
    }

    protected function sound(): string
    {
        return Samples::of('raf');
    }

    public function testThePictureIsTheRawImageAndThePreviewTheJpeg(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([6000, 4000], [$facts->width, $facts->height]);
        self::assertSame(\strlen(Samples::of('jpg')), $facts->preview?->length);
        self::assertSame(160, $facts->preview?->offset);
        self::assertFalse($facts->isViewable);
    }
}
