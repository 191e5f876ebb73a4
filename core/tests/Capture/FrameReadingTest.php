<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardWalk;

final class FrameReadingTest extends ReaderTestCase
{
    public function testTheStarsAndTheTimeOfASidecarCount(): void
    {
        $reading = $this->frame(['A1.JPG' => Samples::plainJpeg(), 'a1.xmp' => Samples::of('xmp')]);
        self::assertSame(
            ['2026-05-02T19:31:40.500', 'xmp', 4],
            [$reading->facts->time?->at->text(), $reading->facts->time?->from->value, $reading->facts->notes->rating],
        );
        self::assertSame([], $reading->problems, 'the time is certain after all');
    }

    public function testTheCamerasOwnTimeAndStarsGoBeforeThoseOfASidecar(): void
    {
        $other = str_replace(['19:31', "'4'"], ['23:59', "'1'"], Samples::of('xmp'));
        $reading = $this->frame(['A1.JPG' => Samples::of('jpg'), 'A1.JPG.xmp' => $other]);
        self::assertSame(
            ['2026-05-02T19:31:40.500', 4],
            [$reading->facts->time?->at->text(), $reading->facts->notes->rating],
        );
    }

    public function testAVoiceNoteGivesItsTimeOnlyWhereTheFrameHasNone(): void
    {
        $dated = $this->frame(['A1.JPG' => Samples::plainJpeg(), 'A1.WAV' => Samples::of('wav')]);
        self::assertSame('sound_header', $dated->facts->time?->from->value);
        $silent = $this->frame(['A1.JPG' => Samples::of('jpg'), 'A1.WAV' => 'no sound at all']);
        self::assertSame([], $silent->problems, 'a voice note without a date is nothing to worry about');
        self::assertCount(2, $silent->fingerprints);
    }

    public function testTheRawSpeaksForAPairAndTheJpegIsShown(): void
    {
        $reading = $this->frame(['A1.NEF' => Samples::of('nef'), 'A1.JPG' => Samples::of('jpg')]);
        self::assertSame([64, 48], [$reading->facts->size->width, $reading->facts->size->height]);
        self::assertSame($reading->fingerprints[1]?->hex, $reading->picture);
        self::assertSame('Tarn Optical Heron 5 TO5-204417', $reading->camera());
    }

    public function testAFileThatIsNoPictureIsStillAFrame(): void
    {
        $reading = $this->frame(['A1.NEF' => 'Dear diary']);
        self::assertTrue($reading->isReadable());
        self::assertSame(['not_a_picture', 'no_capture_time'], array_column($reading->problems, 'code'));
    }

    /** @param array<string, string> $files content by name; one frame */
    private function frame(array $files): FrameReading
    {
        $root = $this->folder.'/card'.bin2hex(random_bytes(3));
        foreach ($files as $name => $content) {
            $path = $this->file(basename($root).'/DCIM/100TARNO/'.$name, $content);
            touch($path, 1_777_716_000);
        }
        $frames = CardWalk::of($root)->frames($root)->frames;
        self::assertCount(1, $frames);

        return FrameReading::of($frames[0], $root, $this->capture());
    }
}
