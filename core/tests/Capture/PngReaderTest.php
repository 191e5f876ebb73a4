<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\PngReader;

final class PngReaderTest extends CaptureReaderContract
{
    protected function reader(): CaptureReader
    {
        return new PngReader();
    }

    protected function sound(): string
    {
        return Samples::of('png');
    }

    public function testKnowsTheSizeOfThePicture(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([96, 64], [$facts->width, $facts->height]);
        self::assertTrue($facts->isViewable);
    }
}
