<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\IsoMediaReader;

final class IsoMediaReaderTest extends CaptureReaderContract
{
    protected function reader(): CaptureReader
    {
        return new IsoMediaReader();
    }

    protected function sound(): string
    {
        static $made = null;
        if (null === $made) {
            Vips::write($this->folder.'/made.avif');
            ExifTool::write($this->folder.'/made.avif', ['-m', ...ExifTool::TAGS]);
            $made = (string) file_get_contents($this->folder.'/made.avif');
        }
        \assert(\is_string($made));

        return $made;
    }

    public function testKnowsTheSizeOfThePicture(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([96, 64], [$facts->width, $facts->height]);
        self::assertTrue($facts->isViewable);
    }
}
