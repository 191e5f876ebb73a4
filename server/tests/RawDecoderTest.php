<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;
use Velvet\Server\Work\Pictures\PictureUndrawable;
use Velvet\Server\Work\Pictures\RawDecoder;

/** Raw files without a picture inside, decoded behind the fence; beside LibRaw's own program without one. */
final class RawDecoderTest extends TestCase
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
        $file = (new RawDecoder(\dirname(__DIR__)))->decode($raw);
        rewind($file);
        $decoded = (string) stream_get_contents($file);
        self::assertStringStartsWith("II*\0", $decoded);
        self::assertSame(shell_exec('dcraw_emu -h -w -T -Z - '.escapeshellarg($raw)), $decoded);
    }

    public function testWhatIsNoRawFileIsRefused(): void
    {
        $this->expectException(PictureUndrawable::class);
        (new RawDecoder(\dirname(__DIR__)))->decode($this->file('T0001.TRW', 'a letter'));
    }
}
