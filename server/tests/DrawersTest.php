<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Server\Work\Pictures\Drawers;
use Velvet\Server\Work\Pictures\DrawingOrder;
use Velvet\Server\Work\Pictures\PictureSize;
use Velvet\Server\Work\Pictures\PictureUndrawable;

/** The processes that draw pictures, as the supervisor runs them. */
final class DrawersTest extends TestCase
{
    use TemporaryFolder;

    /** What a picture of 24,000 x 24,000 takes to decode is refused to it, and the next one is drawn. */
    public function testAPictureThatTakesTooMuchMemoryIsRefused(): void
    {
        try {
            self::drawers()->draw(...$this->order(Jpeg::progressive(24_000, 24_000)));
            self::fail('It was drawn.');
        } catch (PictureUndrawable $e) {
            self::assertSame(
                'The picture cannot be shown (the decoder says “VipsJpeg: Insufficient memory (case 4)”). The file '
                    .'itself is untouched.',
                $e->getMessage(),
            );
        }
        $this->aSoundPictureIsDrawn();
    }

    public function testBothThingsThatAreWantedComeFromOneDecoding(): void
    {
        $drawing = self::drawers()->draw(...$this->order(Jpeg::progressive(1200, 800), 6, true));
        self::assertSame([213, 320], self::edges($drawing->jpeg), 'turned upright');
        self::assertSame(341, $drawing->width);
        self::assertSame(341 * 512, \strlen($drawing->grey));
    }

    public function testTheyAreShutIn(): void
    {
        foreach (self::processes() as $process) {
            self::assertMatchesRegularExpression('/^NoNewPrivs:\t1$/m', self::about($process, 'status'));
            self::assertMatchesRegularExpression('/^Seccomp:\t2$/m', self::about($process, 'status'));
            $limits = self::about($process, 'limits');
            self::assertMatchesRegularExpression('/^Max file size +0 +0 /m', $limits);
            self::assertMatchesRegularExpression('/^Max address space +1250000000 +1250000000 /m', $limits);
        }
    }

    /** It has twenty seconds; here it is ended from outside, as its alarm would. */
    public function testOneThatEndsInTheMidstOfAPictureIsReplaced(): void
    {
        $before = self::processes();
        $waiting = [];
        foreach ($before as $ignored) { // each has one caller who does not say everything
            $stream = stream_socket_client('unix://'.getenv('VELVET_DRAWERS'));
            self::assertIsResource($stream);
            fwrite($stream, pack('P', 100));
            $waiting[] = $stream;
        }
        array_map(static fn (int $process): bool => posix_kill($process, \SIGALRM), $before);
        foreach ($waiting as $stream) {
            self::assertSame('', stream_get_contents($stream), 'the caller is told at once');
        }
        $this->aSoundPictureIsDrawn();
        self::assertSame([], array_intersect($before, self::processes()), 'others are in their place');
    }

    public function testWithoutThemThatIsSaid(): void
    {
        $this->expectExceptionMessage('the processes that draw pictures do not run; start Velvet Ledger again');
        (new Drawers('/nowhere/draw.sock'))->draw(...$this->order('x'));
    }

    /** A picture within a file: what lies around it is not read. */
    public function testOnlyThePictureInTheFileIsRead(): void
    {
        $jpeg = Jpeg::progressive(1200, 800);
        [$file] = $this->order(str_repeat('x', 700_001).$jpeg.str_repeat('y', 100));
        $drawing = self::drawers()->draw(
            $file,
            new DrawingOrder(700_001, max(1, \strlen($jpeg)), Orientation::AsStored, PictureSize::Strip, false),
        );
        self::assertSame([320, 213], self::edges($drawing->jpeg));
    }

    /** A baseline JPEG is decoded row by row, and its columns are asked for. */
    public function testALargePictureIsTurned(): void
    {
        $image = imagecreatetruecolor(1200, 800);
        self::assertInstanceOf(\GdImage::class, $image);
        ob_start();
        imagejpeg($image);
        $jpeg = (string) ob_get_clean();
        [$file] = $this->order($jpeg);
        foreach ([5, 6, 7, 8] as $turn) {
            $order = new DrawingOrder(0, max(1, \strlen($jpeg)), Orientation::from($turn), PictureSize::Near, false);
            self::assertSame([800, 1200], self::edges(self::drawers()->draw($file, $order)->jpeg), 'hardly larger');
        }
    }

    /**
     * It is decoded smaller than it is, and is as near to the average of all its pixels, which GD makes, as what
     * vipsthumbnail makes of it. Rings that become finer outwards show where fine lines turn into coarse ones.
     */
    public function testAShrunkPictureIsTheWholeOneAveraged(): void
    {
        $image = imagecreatetruecolor(2400, 1600);
        self::assertInstanceOf(\GdImage::class, $image);
        for ($y = 0; $y < 1600; ++$y) {
            for ($x = 0; $x < 2400; ++$x) {
                $light = (int) (128 + 100 * cos((($x - 1200) ** 2 + ($y - 800) ** 2) / 1400));
                imagesetpixel($image, $x, $y, $light << 16 | $light << 8 | intdiv($x, 10));
            }
        }
        ob_start();
        imagejpeg($image, null, 95);
        $jpeg = (string) ob_get_clean();
        [$file] = $this->order($jpeg);
        $rings = $this->file('rings.jpg', $jpeg);
        foreach ([PictureSize::Strip, PictureSize::Near] as $size) {
            $drawn = self::drawers()->draw(
                $file,
                new DrawingOrder(0, max(1, \strlen($jpeg)), Orientation::AsStored, $size, false),
            );
            $theirs = $this->file('theirs.jpg');
            exec(\sprintf(
                'vipsthumbnail --size %1$dx%1$d -o %2$s %3$s',
                self::edges($drawn->jpeg)[0],
                escapeshellarg($theirs.'[Q='.$size->quality().']'),
                escapeshellarg($rings),
            ));
            self::assertLessThan(
                1.1 * self::difference($image, (string) file_get_contents($theirs)),
                self::difference($image, $drawn->jpeg),
                $size->name,
            );
        }
    }

    /** @return float of each colour of each pixel, 0 to 255, in the middle */
    private static function difference(\GdImage $whole, string $jpeg): float
    {
        $drawn = imagecreatefromstring($jpeg);
        self::assertInstanceOf(\GdImage::class, $drawn);
        [$width, $height] = [imagesx($drawn), imagesy($drawn)];
        $averaged = imagecreatetruecolor($width, $height);
        self::assertInstanceOf(\GdImage::class, $averaged);
        imagecopyresampled($averaged, $whole, 0, 0, 0, 0, $width, $height, imagesx($whole), imagesy($whole));
        $sum = 0;
        for ($y = 0; $y < $height; ++$y) {
            for ($x = 0; $x < $width; ++$x) {
                [$one, $other] = [(int) imagecolorat($drawn, $x, $y), (int) imagecolorat($averaged, $x, $y)];
                foreach ([0, 8, 16] as $colour) {
                    $sum += abs(($one >> $colour & 255) - ($other >> $colour & 255));
                }
            }
        }

        return $sum / (3 * $width * $height);
    }

    public function testWhoeverAsksDoesNotHoldThePictureInMemory(): void
    {
        $bytes = 150_000_000;
        $path = $this->file('a.jpg', Jpeg::progressive(1200, 800));
        $file = fopen($path, 'r+');
        self::assertIsResource($file);
        ftruncate($file, $bytes); // zeros behind the picture, as in a file with a movie behind it
        memory_reset_peak_usage();
        $before = memory_get_usage();
        $order = new DrawingOrder(0, $bytes, Orientation::AsStored, PictureSize::Strip, true);
        $drawing = self::drawers()->draw($file, $order);
        self::assertSame([320, 213], self::edges($drawing->jpeg));
        self::assertLessThan(4_000_000, memory_get_peak_usage() - $before);
    }

    public function testAFileThatIsShorterThanItsPictureIsSaidToBe(): void
    {
        [$file] = $this->order('cut');
        $this->expectExceptionMessage('it cannot be read to its end');
        self::drawers()->draw($file, new DrawingOrder(0, 4, Orientation::AsStored, PictureSize::Strip, false));
    }

    public function testAnOrderArrivesWithItsFile(): void
    {
        socket_create_pair(\AF_UNIX, \SOCK_STREAM, 0, $pair);
        self::assertIsArray($pair);
        [$here, $there] = $pair;
        self::assertInstanceOf(\Socket::class, $here);
        self::assertInstanceOf(\Socket::class, $there);
        $file = fopen($this->file('a', "a\0picture"), 'r');
        self::assertIsResource($file);
        $order = new DrawingOrder(2, 7, Orientation::RightMirrored, PictureSize::Near, true);
        self::assertTrue($order->send($here, $file));
        fclose($file);
        [$received, $open] = DrawingOrder::receive($there) ?? self::fail('It did not arrive.');
        self::assertEquals($order, $received);
        self::assertSame('picture', stream_get_contents($open, 7, 2), 'it stays open over there');
        socket_write($here, pack('CCvPP', 1, 0, 320, 0, 1 << 40)); // more than there can be, and no file
        self::assertNull(DrawingOrder::receive($there));
        socket_close($here);
        self::assertNull(DrawingOrder::receive($there));
    }

    /**
     * @param int<1, 8> $turn
     *
     * @return array{resource, DrawingOrder}
     */
    private function order(string $encoded, int $turn = 1, bool $measured = false): array
    {
        $file = fopen($this->file('a.jpg', $encoded), 'r');
        self::assertIsResource($file);

        $length = max(1, \strlen($encoded));

        return [$file, new DrawingOrder(0, $length, Orientation::from($turn), PictureSize::Strip, $measured)];
    }

    private function aSoundPictureIsDrawn(): void
    {
        $drawing = self::drawers()->draw(...$this->order(Jpeg::progressive(1200, 800)));
        self::assertSame([320, 213], self::edges($drawing->jpeg));
    }

    private static function drawers(): Drawers
    {
        return new Drawers((string) getenv('VELVET_DRAWERS'));
    }

    private static function about(int $process, string $what): string
    {
        return (string) @file_get_contents("/proc/$process/$what"); // it may have ended
    }

    /** @return list<int> the numbers of the processes that draw for this home */
    private static function processes(): array
    {
        $parents = [];
        foreach ((array) glob('/proc/[0-9]*/cmdline') as $file) {
            $process = (int) basename(\dirname((string) $file));
            $drawers = 'VELVET_DRAWERS='.getenv('VELVET_DRAWERS')."\0";
            if (str_contains((string) @file_get_contents((string) $file), \dirname(__DIR__)."/bin/draw\0")
                && str_contains((string) @file_get_contents("/proc/$process/environ"), $drawers)) {
                preg_match('/^PPid:\s(\d+)$/m', (string) @file_get_contents("/proc/$process/status"), $parent);
                $parents[$process] = (int) ($parent[1] ?? 0);
            }
        }
        $found = array_keys(array_filter($parents, static fn (int $parent): bool => isset($parents[$parent])));
        self::assertNotSame([], $found);
        foreach ($found as $process) {
            // one that was just started is called when it has loaded and is shut in: its last limit is that on cores
            for ($n = 0; $n < 500 && 1 !== preg_match(
                '/^Max core file size +0 +0 /m',
                self::about($process, 'limits'),
            ); ++$n) {
                usleep(10_000);
            }
        }

        return $found;
    }

    /** @return array{int, int} */
    private static function edges(string $jpeg): array
    {
        $size = getimagesizefromstring($jpeg);
        self::assertIsArray($size);

        return [$size[0], $size[1]];
    }
}
