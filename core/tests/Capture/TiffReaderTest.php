<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\TiffReader;

final class TiffReaderTest extends CaptureReaderContract
{
    protected function reader(): CaptureReader
    {
        return new TiffReader();
    }

    protected function sound(): string
    {
        static $made = null;
        if (null === $made) {
            $path = $this->file('raw.tif', self::tiffEp(64, 48, "\xFF\xD8\xFF\xD9"));
            ExifTool::write($path);
            $made = (string) file_get_contents($path);
        }
        \assert(\is_string($made));

        return $made;
    }

    public function testTheRawImageCountsAndNotItsPreview(): void
    {
        $facts = $this->read(self::tiffEp(64, 48, "\xFF\xD8\xFF\xD9"));
        self::assertSame([64, 48], [$facts->width, $facts->height]);
        self::assertFalse($facts->isViewable);
    }

    public function testFindsThePreview(): void
    {
        $preview = "\xFF\xD8\xFF".str_repeat('p', 500)."\xFF\xD9";
        $bytes = self::tiffEp(64, 48, $preview);
        $range = $this->read($bytes)->preview;
        self::assertNotNull($range);
        self::assertSame($preview, substr($bytes, $range->offset, $range->length));
    }

    public function testACycleOfDirectoriesEnds(): void
    {
        // a directory whose successor is itself
        $facts = $this->read("II\x2A\0\x08\0\0\0".pack('v', 1).pack('vvVV', 0x0100, 4, 1, 77).pack('V', 8));
        self::assertNull($facts->capturedAt);
    }

    public function testCountsBeyondTheFileAreCapped(): void
    {
        $facts = $this->read("II\x2A\0\x08\0\0\0".pack('v', 1).pack('vvVV', 0x010F, 2, 0xFFFFFFFF, 8).pack('V', 0));
        self::assertNull($facts->model);
    }

    /** LibRaw, written by others, sees the same picture in the file. */
    public function testLibRawReadsTheSampleToo(): void
    {
        $path = $this->file('raw.tif', $this->sound());
        $output = (string) shell_exec('raw-identify -v '.escapeshellarg($path).' 2>&1');
        self::assertStringContainsString('Tarn Optical Heron 5', $output);
        self::assertMatchesRegularExpression('/Full size:\s+64 x 48/', $output);
    }

    /** A small raw file after TIFF/EP (ISO 12234-2): preview in IFD 0, colour filter array in a sub-directory. */
    private static function tiffEp(int $width, int $height, string $preview): string
    {
        $samples = '';
        for ($n = 0; $n < $width * $height; ++$n) {
            $samples .= pack('v', 512 + $n * 7 % 9000);
        }
        $first = static fn (int $sub, int $data): string => self::directory(8, [
            0x00FE => [4, [1]], 0x0100 => [4, [16]], 0x0101 => [4, [12]], 0x0102 => [3, [8, 8, 8]], 0x0103 => [3, [7]], 0x0106 => [3, [6]],
            0x0111 => [4, [$data]], 0x0115 => [3, [3]], 0x0116 => [4, [12]], 0x0117 => [4, [\strlen($preview)]], 0x014A => [4, [$sub]], 0x9216 => [1, [1, 0, 0, 0]],
        ]);
        $raw = static fn (int $at, int $data): string => self::directory($at, [
            0x00FE => [4, [0]], 0x0100 => [4, [$width]], 0x0101 => [4, [$height]], 0x0102 => [3, [16]], 0x0103 => [3, [1]], 0x0106 => [3, [32803]],
            0x0111 => [4, [$data]], 0x0115 => [3, [1]], 0x0116 => [4, [$height]], 0x0117 => [4, [\strlen($samples)]], 0x828D => [3, [2, 2]], 0x828E => [1, [0, 1, 1, 2]],
        ]);
        $sub = 8 + \strlen($first(0, 0));
        $data = $sub + \strlen($raw(0, 0));
        $padding = str_repeat("\0", \strlen($preview) % 2);

        return "II\x2A\0\x08\0\0\0".$first($sub, $data).$raw($sub, $data + \strlen($preview.$padding)).$preview.$padding.$samples;
    }

    /**
     * @param int                               $at     where the directory will stand
     * @param array<int, array{int, list<int>}> $fields type and values by tag
     */
    private static function directory(int $at, array $fields): string
    {
        $table = pack('v', \count($fields));
        $more = '';
        $end = $at + 2 + 12 * \count($fields) + 4;
        foreach ($fields as $tag => [$type, $values]) {
            $data = pack(3 === $type ? 'v*' : (4 === $type ? 'V*' : 'C*'), ...$values);
            $table .= pack('vvV', $tag, $type, \count($values));
            if (\strlen($data) <= 4) {
                $table .= str_pad($data, 4, "\0");
            } else {
                $table .= pack('V', $end + \strlen($more));
                $more .= $data.str_repeat("\0", \strlen($data) % 2);
            }
        }

        return $table.pack('V', 0).$more;
    }
}
