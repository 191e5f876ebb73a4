<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\TestWith;
use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardWalk;

/** The times of movies on a card whose camera was in another zone than this computer. */
final class CardReaderTest extends ReaderTestCase
{
    /** A file time that tells nothing of when a frame was taken. */
    private const COPIED = 1_790_000_000;

    public function testAMovieIsToldInTheZoneOfThePictures(): void
    {
        // the sample's camera says +02:00, its movie 19:31:40 UTC
        self::assertSame(
            ['2026-05-02T19:31:40.500', '2026-05-02T21:31:40'],
            $this->times(['T0001.JPG' => Samples::of('jpg'), 'T0002.MOV' => Samples::mov()]),
        );
    }

    public function testWhereNoPictureTellsTheZoneItIsThatOfThisComputer(): void
    {
        self::assertSame(['2026-05-02T19:31:40'], $this->times(['T0002.MOV' => Samples::mov()]));
        self::assertSame(
            ['2026-05-02T21:31:40'],
            $this->times(['T0002.MOV' => Samples::mov()], '+02:00'),
            'pictures that were read before count',
        );
    }

    /**
     * The sample's header counts 19:31:40; the file times say what that was. Common practice: cameras write UTC or
     * their own clock there, and FAT keeps the camera's clock, which this computer shows in its own zone or in UTC.
     *
     * @param int $pictureAt seconds from the picture's own clock to its file's time
     * @param int $movieAt   seconds from 19:31:40 to the movie's file's time
     */
    #[TestWith([1, 3, '2026-05-02T19:31:40'], 'the header has the camera’s clock, and this computer shows that, too')]
    #[TestWith([-7200, -7199, '2026-05-02T19:31:40'], 'the same, two hours behind')]
    #[TestWith([1, -5 * 3600, '2026-05-02T14:31:40'], 'the header is in UTC, the camera five hours behind it')]
    #[TestWith([3600, 12600 + 3600, '2026-05-02T23:01:40'], 'three and a half ahead, the file times another hour')]
    #[TestWith([1, 7200, '2026-05-02T21:31:40'], 'the zone that the picture says is right')]
    #[TestWith([1, 10_000_000, '2026-05-02T21:31:40'], 'the movie was copied: its file time tells nothing')]
    #[TestWith([1000, 3, '2026-05-02T21:31:40'], 'the pictures were copied: theirs tell nothing')]
    #[TestWith([212 * 86400, 212 * 86400, '2026-05-02T21:31:40'], 'the card was copied, whole half hours later')]
    #[TestWith([27 * 3600, 27 * 3600, '2026-05-02T21:31:40'], 'the same: two zones are no further apart than 26 hours')]
    public function testTheTimesOfFilesTellInWhichZoneAMovieWasTaken(int $pictureAt, int $movieAt, string $told): void
    {
        $modified = [
            'T0001.JPG' => strtotime('2026-05-02T19:31:40Z') + $pictureAt,
            'T0002.MOV' => strtotime('2026-05-02T19:31:40Z') + $movieAt,
        ];
        self::assertSame(
            ['2026-05-02T19:31:40.500', $told],
            $this->times(['T0001.JPG' => Samples::of('jpg'), 'T0002.MOV' => Samples::mov()], null, $modified),
        );
    }

    /** A clock that began in 1904 says nothing; the file's own time does, as far as it goes, and is marked so. */
    public function testAMovieOf1904IsDatedByItsFile(): void
    {
        $shot = strtotime('2026-05-02T19:31:40Z');
        $files = ['T0001.JPG' => Samples::of('jpg'), 'T0002.MOV' => Samples::mov(3600)];
        self::assertSame(
            ['2026-05-02T19:31:40.500', '2026-05-02T19:41:40'],
            $this->times($files, null, ['T0001.JPG' => $shot - 7200, 'T0002.MOV' => $shot - 7200 + 600]),
        );
        $facts = $this->capture()->of($this->file('a.mov', Samples::mov(3600)), $shot)->facts;
        self::assertSame(['no_capture_time'], array_column($facts->problems, 'code'));
    }

    /** A sound that says nothing of its time, two hours after the picture on whatever clock the file system keeps. */
    #[TestWith([1, '2026-05-02T21:31:41'])]
    #[TestWith([-7199, '2026-05-02T21:31:41'])]
    #[TestWith([1000, '2026-05-02T21:48:20'], 'the picture was copied: the file system is taken at its word')]
    public function testTheTimeOfAFileIsToldOnTheCamerasClock(int $pictureAt, string $told): void
    {
        $shot = strtotime('2026-05-02T19:31:40Z');
        self::assertSame(['2026-05-02T19:31:40.500', $told], $this->times(
            ['T0001.JPG' => Samples::of('jpg'), 'T0002.MP3' => "ID3\4\0\0\0\0\0\0"],
            null,
            ['T0001.JPG' => $shot + $pictureAt, 'T0002.MP3' => $shot + $pictureAt + 7200],
        ));
    }

    /**
     * @param array<string, string> $files    content by name
     * @param array<string, int>    $modified Unix seconds by name, where it matters
     *
     * @return list<string|null>
     */
    private function times(array $files, ?string $offset = null, array $modified = []): array
    {
        $root = $this->folder.'/card'.bin2hex(random_bytes(3));
        foreach ($files as $name => $content) {
            touch($this->file(basename($root).'/DCIM/100TARNO/'.$name, $content), $modified[$name] ?? self::COPIED);
        }
        $reader = new CardReader($this->capture(), $root, $offset);

        return array_map(
            static fn (FrameReading $reading): ?string => $reading->facts->time?->at->text(),
            array_map($reader->read(...), CardWalk::of($root)->frames($root)->frames),
        );
    }
}
