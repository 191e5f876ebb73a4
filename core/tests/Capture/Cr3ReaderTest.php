<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\IsoMediaReader;

/** CR3 files built from their well-known structure: TIFF blocks and JPEGs in boxes; exiftool reads them too. */
final class Cr3ReaderTest extends CaptureReaderContract
{
    private const JPEG = "\xFF\xD8\xFF\xDB the small one \xFF\xD9";
    private const FULL = "\xFF\xD8\xFF\xDB the picture in full \xFF\xD9";

    protected function reader(): CaptureReader
    {
        return new IsoMediaReader();
    }

    protected function sound(): string
    {
        static $made = null;
        if (null === $made) {
            // the directories come from a file whose tags exiftool wrote
            $made = self::cr3(self::directory([0x0100 => [4, 6000], 0x0101 => [4, 4000], 0x010F => [2, 'Tarn Optical'], 0x0110 => [2, 'Heron 5'], 0x0112 => [3, 6], 0x4746 => [3, 4]]), self::directory([
                0x829A => [5, [1, 250]], 0x829D => [5, [28, 10]], 0x8827 => [3, 800], 0x9003 => [2, '2026:05:02 19:31:40'], 0x9011 => [2, '+02:00'], 0x920A => [5, [85, 1]],
                0x9291 => [2, '5'], 0xA431 => [2, 'TO5-204417'], 0xA434 => [2, 'Tarn 24-70mm F2.8'],
            ]));
        }
        \assert(\is_string($made));

        return $made;
    }

    public function testSizeThumbnailAndFullJpeg(): void
    {
        $bytes = $this->sound();
        $facts = $this->read($bytes);
        self::assertSame([6000, 4000], [$facts->width, $facts->height]);
        self::assertSame(self::JPEG, substr($bytes, $facts->thumbnail->offset ?? 0, $facts->thumbnail->length ?? 0));
        self::assertSame(self::FULL, substr($bytes, $facts->preview->offset ?? 0, $facts->preview->length ?? 0));
    }

    private static function cr3(string $first, string $exif): string
    {
        $ftyp = self::box('ftyp', 'crx '.pack('N', 1).'crx isom');
        $facts = self::box('uuid', hex2bin('85c0b687820f11e08111f4ce462b6a48').self::box('CMT1', $first).self::box('CMT2', $exif)
            .self::box('THMB', pack('Nnn', 0, 160, 120).pack('Nnn', \strlen(self::JPEG), 1, 0).self::JPEG));
        $moov = static fn (int $offset): string => self::box('moov', $facts.self::box('trak', self::box('mdia', self::box('minf', self::box('stbl',
            self::box('stsz', pack('NNN', 0, \strlen(self::FULL), 1)).self::box('co64', pack('NNNN', 0, 1, 0, $offset)))))));

        return $ftyp.$moov(\strlen($ftyp.$moov(0)) + 8).self::box('mdat', self::FULL.str_repeat("\x55", 900));
    }

    private static function box(string $type, string $payload): string
    {
        return pack('N', 8 + \strlen($payload)).$type.$payload;
    }

    /** @param array<int, array{int, int|string|array{int, int}}> $fields type and value by tag */
    private static function directory(array $fields): string
    {
        $table = '';
        $more = '';
        $end = 8 + 2 + 12 * \count($fields) + 4;
        foreach ($fields as $tag => [$type, $value]) {
            $data = match (true) {
                \is_string($value) => $value."\0",
                \is_array($value) => pack('VV', ...$value),
                default => pack(3 === $type ? 'v' : 'V', $value),
            };
            $count = \is_string($value) ? \strlen($data) : 1;
            $table .= pack('vvV', $tag, $type, $count);
            if (\strlen($data) <= 4) {
                $table .= str_pad($data, 4, "\0");
            } else {
                $table .= pack('V', $end + \strlen($more));
                $more .= $data.str_repeat("\0", \strlen($data) % 2);
            }
        }

        return "II\x2A\0\x08\0\0\0".pack('v', \count($fields)).$table.pack('V', 0).$more;
    }
}
