<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardWalk;

/** The times of movies on a card whose camera was in another zone than this computer. */
final class CardReaderTest extends ReaderTestCase
{
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
     * @param array<string, string> $files content by name
     *
     * @return list<string|null>
     */
    private function times(array $files, ?string $offset = null): array
    {
        $root = $this->folder.'/card'.bin2hex(random_bytes(3));
        foreach ($files as $name => $content) {
            $this->file(basename($root).'/DCIM/100TARNO/'.$name, $content);
        }
        $reader = new CardReader($this->capture(), $root, $offset);

        return array_map(
            static fn (FrameReading $reading): ?string => $reading->facts->time?->at->text(),
            array_map($reader->read(...), CardWalk::of($root)->frames($root)->frames),
        );
    }
}
