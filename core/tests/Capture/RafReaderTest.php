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
        $jpeg = self::jpeg($this->folder);
        $table = pack('N', 2).pack('nnnn', 0x0100, 4, 4032, 6032).pack('nnnn', 0x0111, 4, 4000, 6000);
        $raw = str_repeat("\x12\x34", 400);
        $at = 160;
        $header = str_pad('FUJIFILMCCD-RAW 0201FF389501', 28, "\0").str_pad('Heron 5', 32, "\0").'0100'.str_repeat("\0", 20)
            .pack('NNNNNN', $at, \strlen($jpeg), $at + \strlen($jpeg), \strlen($table), $at + \strlen($jpeg.$table), \strlen($raw));

        return str_pad($header, $at, "\0").$jpeg.$table.$raw;
    }

    public function testThePictureIsTheRawImageAndThePreviewTheJpeg(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame([6000, 4000], [$facts->width, $facts->height]);
        self::assertSame(\strlen(self::jpeg($this->folder)), $facts->preview?->length);
        self::assertSame(160, $facts->preview?->offset);
        self::assertFalse($facts->isViewable);
    }

    private static function jpeg(string $folder): string
    {
        static $made = null;
        if (null === $made) {
            Vips::write($folder.'/inner.jpg');
            ExifTool::write($folder.'/inner.jpg');
            $made = (string) file_get_contents($folder.'/inner.jpg');
        }
        \assert(\is_string($made));

        return $made;
    }
}
