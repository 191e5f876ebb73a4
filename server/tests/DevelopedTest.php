<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\TestWith;
use Velvet\Demo\Camera;
use Velvet\Demo\Exposure;
use Velvet\Demo\FrameFiles;
use Velvet\Demo\Picture;
use Velvet\Server\Kernel;

/** A raw file whose picture inside has half the pixels of its sensor. */
final class DevelopedTest extends ServerTestCase
{
    /**
     * For the smallest pictures the one inside will do; every pixel is seen of the whole image.
     *
     * @param array{int, int} $pixels
     */
    #[TestWith([320, [320, 213]])]
    #[TestWith([1024, [1024, 683]])]
    #[TestWith([16384, [1200, 800]])]
    public function testItIsDevelopedWhereThePictureInsideIsSmallerThanWhatIsSeen(int $size, array $pixels): void
    {
        self::assertSame($pixels, $this->shown($size, self::raw()));
    }

    public function testWhereLibRawDoesNotKnowTheFileThePictureInsideIsShown(): void
    {
        $raw = self::raw('2026:05:02 19:32:00'); // pictures are kept by samples of the bytes
        $bits = "\x02\x01\x03\0\x01\0\0\0\x10\0"; // the tag of TIFF: 16 of each sample
        self::assertSame(1, substr_count($raw, $bits));
        $unknown = str_replace($bits, substr($bits, 0, -2)."\x63\0", $raw);
        self::assertSame([600, 400], $this->shown(16384, $unknown));
    }

    private static function raw(string $time = '2026:05:02 19:31:40'): string
    {
        $picture = Picture::perlin(1200, 800, 60, 1)->times(100, 128);

        return FrameFiles::raw(
            $picture->join($picture)->join($picture)->finished(),
            new Exposure(
                new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA'),
                $time,
                1,
                [1, 250],
                [28, 10],
                800,
                50,
            ),
        );
    }

    /** @return list<mixed> pixels across and down of what is shown of a raw file */
    private function shown(int $size, string $raw): array
    {
        $this->file('card/DCIM/100/T0001.TRW', $raw);
        $this->readCard();
        $key = $this->database()->fetchOne('SELECT picture FROM card_frame');
        self::assertIsString($key);
        $path = \sprintf('/pictures/%d/%s/%s.jpg', $size, substr($key, 0, 2), substr($key, 2));
        self::assertSame(200, $this->request('GET', $path)->getStatusCode());

        return array_values(\array_slice((array) getimagesize(Kernel::home().$path), 0, 2));
    }
}
