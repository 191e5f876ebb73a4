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
        static $made = null;
        if (null === $made) {
            Vips::write($this->folder.'/inner.jpg');
            ExifTool::write($this->folder.'/inner.jpg', ['-ExifByteOrder=MM', ...ExifTool::TAGS]);
            $jpeg = (string) file_get_contents($this->folder.'/inner.jpg');
            $at = (int) strpos($jpeg, "Exif\0\0");
            $length = unpack('n', $jpeg, $at - 2);
            \assert(\is_array($length) && \is_int($length[1]));
            $tiff = substr($jpeg, $at + 6, $length[1] - 8);
            $size = '27730001'.pack('nn', 20, 30).pack('nn', 16, 24)."\x0C\x0C\x59\0\0\0\0\1";
            $blocks = "\0PRD".pack('N', \strlen($size)).$size."\0TTW".pack('N', \strlen($tiff)).$tiff;
            $made = "\0MRM".pack('N', \strlen($blocks)).$blocks.str_repeat("\x21\x43", 900);
        }
        \assert(\is_string($made));

        return $made;
    }

    public function testKnowsTheSizeOfThePicture(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([24, 16], [$facts->width, $facts->height]);
    }
}
