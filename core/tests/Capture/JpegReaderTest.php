<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

final class JpegReaderTest extends ReaderTestCase
{
    public function testKnowsTheSizeOfThePicture(): void
    {
        $facts = $this->read('jpg', Samples::of('jpg'));
        self::assertSame([96, 64], [$facts->size->width, $facts->size->height]);
        self::assertTrue($facts->pictures->isViewable);
    }

    public function testAPictureWithoutItsEndIsCutShort(): void
    {
        self::assertContains(
            'cut_short',
            array_column($this->read('jpg', substr(Samples::of('jpg'), 0, -1))->problems, 'code'),
        );
        self::assertSame(
            [],
            $this->read('jpg', Samples::of('jpg').str_repeat("\0", 900))->problems,
            'padding behind the end is common practice',
        );
    }

    public function testFindsTheThumbnail(): void
    {
        $thumbnail = (string) file_get_contents($this->picture(40, 30));
        file_put_contents($this->folder.'/thumb.jpg', $thumbnail);
        $path = $this->picture(96, 64);
        ExifTool::write(
            $path,
            ['-DateTimeOriginal=2026:05:02 10:00:00', '-ThumbnailImage<='.$this->folder.'/thumb.jpg'],
        );
        $bytes = (string) file_get_contents($path);
        $range = $this->read('jpg', $bytes)->pictures->thumbnail;
        self::assertNotNull($range);
        self::assertSame($thumbnail, substr($bytes, $range->offset, $range->length));
    }

    public function testBothByteOrders(): void
    {
        foreach (['II', 'MM'] as $order) {
            $path = $this->picture(32, 32);
            ExifTool::write($path, ['-ExifByteOrder='.$order, ...ExifTool::TAGS]);
            ExifTool::assertAgrees($this->read('jpg', (string) file_get_contents($path)), $path);
        }
    }

    public function testNonsenseBecomesUnknownWithAProblem(): void
    {
        $path = $this->picture(32, 32);
        ExifTool::write($path, ['-ExposureTime=1/0', '-EXIF:DateTimeOriginal=2026:13:45 99:00:00', '-n']);
        $facts = $this->read('jpg', (string) file_get_contents($path));
        self::assertNull($facts->exposure->seconds);
        self::assertNull($facts->time?->at);
        self::assertContains('nonsense', array_column($facts->problems, 'code'));
    }

    public function testAJpegWithoutExifIsDatedByItsFile(): void
    {
        $path = $this->picture(32, 32);
        $reading = $this->capture()->of($path, 1_777_716_000);
        self::assertSame('2026-05-02T10:00:00', $reading->facts->time?->at->text());
        self::assertSame('file_time', $reading->facts->time->from->value);
        self::assertSame(['no_capture_time'], array_column($reading->facts->problems, 'code'));
    }

    public function testAMovieBehindThePictureDoesNotMakeItDamaged(): void
    {
        $picture = Samples::of('jpg');
        $movie = "\0\0\0\x18ftypmp42".str_repeat('moving', 500_000);
        self::assertNotContains('cut_short', array_column($this->read('jpg', $picture.$movie)->problems, 'code'));
        self::assertContains(
            'cut_short',
            array_column($this->read('jpg', substr($picture, 0, -200).$movie)->problems, 'code'),
            'the picture itself has no end',
        );
    }

    public function testAnEmptyFileAndAFileOfAnotherKindAreTold(): void
    {
        self::assertSame('empty', $this->capture()->of($this->file('zero.jpg', ''), 0)->facts->problems[0]->code);
        self::assertSame(
            'not_a_picture',
            $this->capture()->of($this->file('text.jpg', 'Dear diary'), 0)->facts->problems[0]->code,
        );
        self::assertSame('unreadable', $this->capture()->of($this->folder.'/gone.jpg', 0)->facts->problems[0]->code);
    }

    /** A JPEG of the given size, made by PHP's GD without any metadata. */
    private function picture(int $width, int $height): string
    {
        \assert($width > 0 && $height > 0);
        $image = imagecreatetruecolor($width, $height);
        \assert(false !== $image);
        imagefilledellipse($image, $width >> 1, $height >> 1, $width >> 1, $height >> 1, 0xFFAA33);
        $path = $this->folder.'/'.bin2hex(random_bytes(4)).'.jpg';
        imagejpeg($image, $path, 80);

        return $path;
    }
}
