<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\MrwReader;

/** MRW files built from their well-known structure around a TIFF block whose tags exiftool wrote. */
final class MrwReaderTest extends CaptureReaderContract
{
    protected function reader(): CaptureReader
    {
        return new MrwReader();
    }

    protected function sound(): string
    {
        return Samples::of('mrw');
    }

    public function testKnowsTheSizeOfThePicture(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([24, 16], [$facts->width, $facts->height]);
    }
}
