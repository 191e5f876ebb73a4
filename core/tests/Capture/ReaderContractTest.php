<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use Velvet\Core\Bytes\FileBytes;

/** What every reader must do, whatever container it reads; for every format there is. */
final class ReaderContractTest extends ReaderTestCase
{
    private const MUTATIONS = 60;

    /** @return iterable<string, array{string}> */
    public static function formats(): iterable
    {
        foreach ([...Samples::STILLS, ...Samples::COMPANIONS] as $format) {
            yield $format => [$format];
        }
    }

    #[DataProvider('formats')]
    public function testASoundFileGivesItsFactsWithoutAProblem(string $format): void
    {
        $facts = $this->read($format, Samples::of($format));
        self::assertSame('2026-05-02T19:31:40', $facts->time?->at->clock);
        self::assertSame([], $facts->problems);
        if (\in_array($format, Samples::STILLS, true)) {
            self::assertSame('exif_original', $facts->time->from->value);
            self::assertSame('Heron 5', $facts->camera->model);
            self::assertEqualsWithDelta(
                [1 / 250, 2.8, 85.0],
                [$facts->exposure->seconds, $facts->optics->fNumber, $facts->optics->focalMillimetres],
                1e-6,
            );
            self::assertSame([800, 6], [$facts->exposure->iso, $facts->size->orientation]);
            self::assertGreaterThanOrEqual([1, 1], [$facts->size->width, $facts->size->height]);
        }
    }

    #[DataProvider('formats')]
    public function testReadsOnlyWhatItNeeds(string $format): void
    {
        $bytes = FileBytes::open($this->file('sample', Samples::of($format)));
        self::reader($format)->read($bytes, 'sample');
        self::assertLessThan(64 * 1024, $bytes->bytesRead());
        self::assertNull($bytes->fault());
    }

    #[DataProvider('formats')]
    public function testNoOtherReaderTakesIt(string $format): void
    {
        $head = substr(Samples::of($format), 0, 48);
        $own = self::reader($format);
        self::assertTrue($own->recognises($head)?->goesBy($format), 'its own extension fits its content');
        self::assertNull($own->recognises('GIF89a..........'));
        self::assertNull($own->recognises(''));
        foreach (array_merge(Samples::STILLS, Samples::COMPANIONS) as $other) {
            self::assertSame(
                self::reader($other)::class === $own::class,
                null !== self::reader($other)->recognises($head),
                "$other",
            );
        }
    }

    #[DataProvider('formats')]
    public function testATruncatedFileGivesFactsAndAProblemButNoError(string $format): void
    {
        $sound = Samples::of($format);
        foreach ([3, 8, 20, 60, 200, (int) (\strlen($sound) / 2)] as $length) {
            self::assertNotSame([], $this->read($format, substr($sound, 0, $length))->problems, "cut at $length");
        }
    }

    /** Fixed seed, so that a failure comes again. */
    #[DataProvider('formats')]
    public function testMutatedFilesGiveFactsAndNoError(string $format): void
    {
        $sound = Samples::of($format);
        mt_srand(20_260_502);
        for ($n = 0; $n < self::MUTATIONS; ++$n) {
            $bytes = $sound;
            for ($change = mt_rand(1, 12); $change > 0; --$change) {
                $bytes[mt_rand(0, min(\strlen($bytes), 4000) - 1)] = \chr(mt_rand(0, 255));
            }
            self::assertGreaterThanOrEqual(0, $this->read($format, $bytes)->size->width ?? 0);
        }
    }
}
