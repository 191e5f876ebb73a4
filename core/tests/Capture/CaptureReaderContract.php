<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureFacts;
use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\FileBytes;
use Velvet\Core\Tests\TemporaryFolder;

/** What every reader must do, whatever container it reads. */
abstract class CaptureReaderContract extends TestCase
{
    use TemporaryFolder;

    private const MUTATIONS = 150;

    abstract protected function reader(): CaptureReader;

    /** A sound file of the reader's kind, its tags written by exiftool as {@see ExifTool::TAGS} says. */
    abstract protected function sound(): string;

    public function testReadsTheFactsThatAnotherProgramWrote(): void
    {
        $facts = $this->read($this->sound());
        self::assertSame('2026-05-02T19:31:40.500', $facts->capturedAt?->text());
        self::assertSame('+02:00', $facts->capturedAt->offset);
        self::assertSame('exif_original', $facts->capturedFrom?->value);
        self::assertSame(['Tarn Optical', 'Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8'], [$facts->make, $facts->model, $facts->serial, $facts->lens]);
        self::assertEqualsWithDelta(1 / 250, $facts->exposureSeconds, 1e-9);
        self::assertEqualsWithDelta(2.8, $facts->fNumber, 1e-9);
        self::assertSame([800, 85.0, 6, 4], [$facts->iso, $facts->focalMillimetres, $facts->orientation, $facts->rating]);
        self::assertSame([], $facts->problems);
    }

    public function testAgreesWithExiftool(): void
    {
        ExifTool::assertAgrees($this->read($this->sound()), $this->folder.'/sample');
    }

    public function testReadsOnlyTheBeginningAndTheEnd(): void
    {
        $this->file('sample', $this->sound());
        $bytes = FileBytes::open($this->folder.'/sample');
        $this->reader()->read($bytes, 'sample');
        self::assertLessThan(64 * 1024, $bytes->bytesRead());
    }

    public function testOnlyOwnKindIsRecognised(): void
    {
        self::assertTrue($this->reader()->recognises(substr($this->sound(), 0, 16)));
        self::assertFalse($this->reader()->recognises('GIF89a..........'));
        self::assertFalse($this->reader()->recognises(''));
    }

    public function testATruncatedFileGivesFactsAndAProblemButNoError(): void
    {
        $sound = $this->sound();
        foreach ([3, 8, 20, 60, 200, 600, (int) (\strlen($sound) / 2)] as $length) {
            $facts = $this->read(substr($sound, 0, $length));
            self::assertNotSame([], $facts->problems, "cut at $length");
        }
    }

    /** Fixed seed, so that a failure comes again. */
    public function testMutatedFilesGiveFactsAndNoError(): void
    {
        $sound = $this->sound();
        mt_srand(20_260_502);
        for ($n = 0; $n < self::MUTATIONS; ++$n) {
            $bytes = $sound;
            for ($change = mt_rand(1, 12); $change > 0; --$change) {
                $bytes[mt_rand(0, min(\strlen($bytes), 4000) - 1)] = \chr(mt_rand(0, 255));
            }
            $facts = $this->read($bytes);
            self::assertTrue(null === $facts->width || $facts->width >= 0);
        }
    }

    protected function read(string $bytes): CaptureFacts
    {
        $path = $this->file('sample', $bytes);

        return $this->reader()->read(FileBytes::open($path), 'sample');
    }

    protected function capture(): Capture
    {
        return Capture::inZone(new \DateTimeZone('UTC'));
    }
}
