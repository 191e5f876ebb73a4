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
        yield 'a lone movie is a frame' => [['A/T2.MOV', 'A/T1.JPG'], [['A/T1.JPG'], ['A/T2.MOV']], []];
        yield 'a lone voice note is a frame' => [['A/T2.WAV'], [['A/T2.WAV']], []];
        yield 'what lies beside a movie goes with it' => [
            ['A/T2.MOV', 'A/T2.LRV', 'A/T2.SRT', 'A/T2.THM', 'A/T2.WAV', 'A/T2.MOV.xmp'],
            [['A/T2.MOV', 'A/T2.LRV', 'A/T2.WAV', 'A/T2.MOV.xmp', 'A/T2.THM', 'A/T2.SRT']],
            [],
        ];
        // layouts from memory
        yield 'pieces of a long movie, with their thumbnails and smaller copies' => [
            ['A/GX020012.MP4', 'A/GX010012.MP4', 'A/GX010012.THM', 'A/GL010012.LRV', 'A/GX010013.MP4'],
            [['A/GX010012.MP4', 'A/GX020012.MP4', 'A/GL010012.LRV', 'A/GX010012.THM'], ['A/GX010013.MP4']],
            [],
        ];
        yield 'pieces named as older cameras do' => [
            ['A/GP010012.MP4', 'A/GOPR0012.MP4'],
            [['A/GOPR0012.MP4', 'A/GP010012.MP4']],
            [],
        ];
        yield 'clips with what lies in other folders' => [
            [
                'P/M4ROOT/CLIP/C0001.MP4', 'P/M4ROOT/CLIP/C0001M01.XML', 'P/M4ROOT/SUB/C0001S03.MP4',
                'P/M4ROOT/CLIP/C0002.MP4',
            ],
            [
                ['P/M4ROOT/CLIP/C0001.MP4', 'P/M4ROOT/SUB/C0001S03.MP4', 'P/M4ROOT/CLIP/C0001M01.XML'],
                ['P/M4ROOT/CLIP/C0002.MP4'],
            ],
            [],
        ];
        yield 'clips of larger cameras' => [
            ['XDROOT/Clip/742_0001.MXF', 'XDROOT/Clip/742_0001M01.XML', 'XDROOT/Sub/742_0001S01.MP4'],
            [['XDROOT/Clip/742_0001.MXF', 'XDROOT/Sub/742_0001S01.MP4', 'XDROOT/Clip/742_0001M01.XML']],
            [],
        ];
        yield 'a stream with what is to be known of it' => [
            [
                'AVCHD/BDMV/CLIPINF/00000.CPI', 'AVCHD/BDMV/CLIPINF/00001.CPI', 'AVCHD/BDMV/PLAYLIST/00000.MPL',
                'AVCHD/BDMV/STREAM/00000.MTS',
            ],
            [['AVCHD/BDMV/STREAM/00000.MTS', 'AVCHD/BDMV/CLIPINF/00000.CPI']],
            ['AVCHD/BDMV/CLIPINF/00001.CPI', 'AVCHD/BDMV/PLAYLIST/00000.MPL'],
        ];
        yield 'two stills that differ only in case are two frames' => [
            ['A/T1.JPG', 'A/t1.jpg'],
            [['A/T1.JPG'], ['A/t1.jpg']],
            [],
        ];
        yield 'what else bears its name goes with a frame' => [
            ['A/T1.PP3', 'A/T1.JPG'],
            [['A/T1.JPG', 'A/T1.PP3']],
            [],
        ];
        yield 'other files stay apart' => [['A/M0100.CTG', 'A/T1.JPG'], [['A/T1.JPG']], ['A/M0100.CTG']];
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
