<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Metadata;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Metadata\ShownJpeg;
use Velvet\Core\Tests\Capture\ExifTool;
use Velvet\Core\Tests\TemporaryFolder;

/** What is handed to a browser, as exiftool and vips from Debian read it. */
final class ShownJpegTest extends TestCase
{
    use TemporaryFolder;

    public function testThePictureIsTheSameAndBesideItStandsOnlyHowItLooks(): void
    {
        $path = $this->jpeg('--profile srgb');
        ExifTool::write($path);
        // within another file, as a preview in a raw file
        $inside = $this->folder.'/raw';
        file_put_contents($inside, str_repeat('x', 777).file_get_contents($path).'behind');
        $shown = $this->shown($inside, 777, (int) filesize($path), Orientation::Left);
        self::assertNotNull($shown);
        $said = ExifTool::read($shown);
        self::assertSame(8, $said['Orientation']);
        self::assertSame([null, null], [$said['Artist'] ?? null, $said['GPSLatitude'] ?? null]);
        self::assertArrayHasKey('ProfileDescription', $said, 'its colours are still told');
        self::assertSame(self::pixels($path, '--orientation 8'), self::pixels($shown, ''));
    }

    public function testWhatABrowserDoesNotShowIsLeftToTheDecoder(): void
    {
        $path = $this->jpeg('');
        $jpeg = (string) file_get_contents($path);
        $frame = (int) strpos($jpeg, "\xFF\xC0");
        self::assertGreaterThan(0, $frame);
        foreach ([
            'coded without loss' => substr_replace($jpeg, "\xC3", $frame + 1, 1),
            'of 12 bits' => substr_replace($jpeg, "\x0C", $frame + 4, 1),
            'of four inks' => substr_replace($jpeg, "\x04", $frame + 9, 1),
            'of 256 megapixels' => substr_replace($jpeg, pack('nn', 16000, 16000), $frame + 5, 4),
            'cut before its picture' => substr($jpeg, 0, $frame),
            'no JPEG' => 'GIF89a',
        ] as $what => $bytes) {
            file_put_contents($path, $bytes);
            self::assertNull($this->shown($path, 0, \strlen($bytes), Orientation::AsStored), $what);
        }
        file_put_contents($path, $jpeg);
        self::assertNull($this->shown($path, 0, \strlen($jpeg), Orientation::AsStored, 95), 'larger than it may be');
        self::assertNotNull($this->shown($path, 0, \strlen($jpeg), Orientation::AsStored, 96));
    }

    private function jpeg(string $options): string
    {
        $path = $this->folder.'/a.jpg';
        exec(\sprintf(
            'cd %s && vips perlin p.v 96 64 --cell-size 16 --uchar && vips bandjoin "p.v p.v p.v" c.v'
                .' && vips copy c.v d.v --interpretation srgb && vips jpegsave d.v a.jpg %s 2>&1',
            escapeshellarg($this->folder),
            $options,
        ), $output, $result);
        self::assertSame(0, $result, implode("\n", $output));

        return $path;
    }

    private function shown(string $path, int $offset, int $length, Orientation $as, int $most = 16384): ?string
    {
        $range = ByteRange::within((int) filesize($path), $offset, $length);
        self::assertNotNull($range);
        $bytes = FileBytes::open($path);
        $pieces = ShownJpeg::of($bytes, $range, $as, $most);
        if (null === $pieces) {
            return null;
        }
        file_put_contents($this->folder.'/shown.jpg', array_map(
            static fn (string|ByteRange $piece): string => \is_string($piece)
                ? $piece
                : $bytes->read($piece->offset, $piece->length),
            $pieces,
        ));

        return $this->folder.'/shown.jpg';
    }

    /** As vips shows it; the option says in which orientation, in place of what the file says. */
    private static function pixels(string $path, string $as): string
    {
        $copy = $path.'.copy.jpg';
        copy($path, $copy);
        if ('' !== $as) {
            ExifTool::write($copy, ['-IFD0:Orientation#='.substr($as, -1)]);
        }
        exec('vips autorot '.escapeshellarg($copy).' '.escapeshellarg($copy.'.png'), $output, $result);
        self::assertSame(0, $result);
        $image = imagecreatefrompng($copy.'.png');
        self::assertInstanceOf(\GdImage::class, $image);
        $pixels = imagesx($image).' ';
        for ($n = 0; $n < imagesx($image) * imagesy($image); ++$n) {
            $pixels .= pack('N', imagecolorat($image, $n % imagesx($image), intdiv($n, imagesx($image))));
        }

        return $pixels;
    }
}
