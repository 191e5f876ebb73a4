<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Card;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Card\Frame;
use Velvet\Core\Card\FrameListing;

final class FrameListingTest extends TestCase
{
    /**
     * @param list<string>       $paths
     * @param list<list<string>> $frames
     * @param list<string>       $others
     */
    #[DataProvider('cards')]
    public function testJoinsFilesIntoFrames(array $paths, array $frames, array $others): void
    {
        $listing = FrameListing::of(
            array_map(static fn (string $path): CardFile => new CardFile($path, FileKind::ofName($path), 1, 0), $paths),
        );
        self::assertSame(
            $frames,
            array_map(static fn (Frame $frame): array => array_column($frame->files, 'path'), $listing->frames),
        );
        self::assertSame($others, array_column($listing->others, 'path'));
    }

    /** @return iterable<string, array{list<string>, list<list<string>>, list<string>}> */
    public static function cards(): iterable
    {
        // DCF 2.0: files of one directory and one number are one object
        yield 'raw and JPEG, raw first' => [['A/T0001.JPG', 'A/T0001.TRW'], [['A/T0001.TRW', 'A/T0001.JPG']], []];
        yield 'any letter case' => [['A/T0001.jpg', 'A/t0001.TRW'], [['A/t0001.TRW', 'A/T0001.jpg']], []];
        yield 'same number in two folders is two frames' => [
            ['A/T0001.JPG', 'B/T0001.JPG'],
            [['A/T0001.JPG'], ['B/T0001.JPG']],
            [],
        ];
        yield 'companions follow' => [
            ['A/T1.JPG', 'A/T1.WAV', 'A/T1.XMP', 'A/T1.MOV'],
            [['A/T1.JPG', 'A/T1.MOV', 'A/T1.WAV', 'A/T1.XMP']],
            [],
        ];
        yield 'sidecar named with the extension' => [['A/T1.TRW', 'A/T1.TRW.xmp'], [['A/T1.TRW', 'A/T1.TRW.xmp']], []];
        yield 'a lone movie is no frame' => [['A/T2.MOV', 'A/T1.JPG'], [['A/T1.JPG']], ['A/T2.MOV']];
        yield 'a lone voice note is no frame' => [['A/T2.WAV'], [], ['A/T2.WAV']];
        yield 'two stills that differ only in case are two frames' => [
            ['A/T1.JPG', 'A/t1.jpg'],
            [['A/T1.JPG'], ['A/t1.jpg']],
            [],
        ];
        yield 'other files stay apart' => [['A/T1.CTG', 'A/T1.JPG'], [['A/T1.JPG']], ['A/T1.CTG']];
        yield 'a name without a stem' => [['.jpg'], [], ['.jpg']];
    }

    public function testAPairShooterHasTwiceAsManyFilesAsFrames(): void // common practice
    {
        $files = [];
        for ($n = 1; $n <= 300; ++$n) {
            foreach (['JPG', 'TRW'] as $extension) {
                $files[] = new CardFile(
                    \sprintf('DCIM/100TARNO/T%04d.%s', $n, $extension),
                    FileKind::ofName('x.'.$extension),
                    1,
                    0,
                );
            }
        }
        self::assertCount(300, FrameListing::of($files)->frames);
    }
}
