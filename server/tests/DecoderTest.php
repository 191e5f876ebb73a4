<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;
use Velvet\Server\Work\Pictures\Decoder;
use Velvet\Server\Work\Pictures\PictureUndrawable;

/** Raw files without a picture inside, and movies, decoded behind the fence; beside the programs without one. */
final class DecoderTest extends TestCase
{
    use TemporaryFolder;

    public function testThePictureIsWhatLibRawMakesWithoutTheFence(): void
    {
        $picture = Picture::perlin(96, 64, 16, 1)->times(100, 128);
        $raw = $this->file('T0001.TRW', FrameFiles::raw(
            $picture->join($picture)->join($picture)->finished(),
            new Exposure(
                new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA'),
                '2026:05:02 19:31:40',
                1,
                [1, 250],
                [28, 10],
                800,
                50,
            ),
        ));
        foreach (['-h' => true, '' => false] as $option => $half) {
            $file = (new Decoder(\dirname(__DIR__)))->raw($raw, $half);
            rewind($file);
            $decoded = (string) stream_get_contents($file);
            self::assertStringStartsWith("II*\0", $decoded);
            self::assertSame(shell_exec("dcraw_emu $option -w -T -Z - ".escapeshellarg($raw)), $decoded);
        }
    }

    /**
     * H.264 and the codecs of older cameras, made by ffmpeg itself.
     *
     * @param list<string> $as
     */
    #[TestWith(['mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p']])]
    #[TestWith(['mov', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p']])]
    #[TestWith(['mts', ['-c:v', 'mpeg2video', '-f', 'mpegts']])]
    #[TestWith(['avi', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p']])]
    public function testAStillIsTakenFromAMovie(string $extension, array $as): void
    {
        $movie = $this->folder.'/T0001.'.$extension;
        exec(implode(' ', array_map(escapeshellarg(...), [
            'ffmpeg', '-v', 'error', '-f', 'lavfi', '-i', 'color=red:size=320x180:rate=25:duration=1', ...$as, $movie,
        ])), $_, $status);
        self::assertSame(0, $status);
        $file = (new Decoder(\dirname(__DIR__)))->movie($movie);
        rewind($file);
        $still = (string) stream_get_contents($file);
        self::assertStringStartsWith("P6\n320 180\n255\n", $still);
        [$red, $green, $blue] = array_values((array) unpack('C3', substr($still, -3)));
        self::assertIsInt($red);
        self::assertGreaterThan(200, $red);
        self::assertLessThan(60, $green);
        self::assertLessThan(60, $blue);
    }

    /** Silence is a line in the middle, a loud tone fills the height. */
    public function testASoundIsDrawnAsLoudAsItIs(): void
    {
        $sound = $this->folder.'/T0001.WAV';
        exec('ffmpeg -v error -f lavfi -i "aevalsrc=if(lt(t\,1)\,0\,0.9*sin(4000*t)):d=2" '.escapeshellarg($sound));
        $file = (new Decoder(\dirname(__DIR__)))->sound($sound);
        rewind($file);
        $drawn = (string) stream_get_contents($file);
        self::assertStringStartsWith("P6\n1200 800\n255\n", $drawn);
        $pixels = substr($drawn, -1200 * 800 * 3);
        $light = static fn (int $x, int $y): bool => \ord($pixels[3 * (1200 * $y + $x)]) > 128;
        self::assertSame([false, true], [$light(300, 200), $light(900, 200)]);
    }

    /** What a movie speaks of is not opened: a list that leads to another file gives no picture of that. */
    public function testAMovieLeadsToNoOtherFile(): void
    {
        $other = $this->folder.'/other.mp4';
        exec('ffmpeg -v error -f lavfi -i color=red:size=32x18:rate=5:duration=1 '.escapeshellarg($other));
        $this->expectException(PictureUndrawable::class);
        (new Decoder(\dirname(__DIR__)))->movie($this->file('T0001.MOV', "ffconcat version 1.0\nfile '$other'\n"));
    }

    public function testWhatIsNoRawFileIsRefused(): void
    {
        $this->expectException(PictureUndrawable::class);
        (new Decoder(\dirname(__DIR__)))->raw($this->file('T0001.TRW', 'a letter'), true);
    }
}
