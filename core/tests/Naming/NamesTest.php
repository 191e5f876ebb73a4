<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Naming;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameFileNames;
use Velvet\Core\Naming\LetterCase;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Tests\TemporaryFolder;

final class NamesTest extends TestCase
{
    use TemporaryFolder;
    use TestTrait;

    #[DataProvider('readable')]
    public function testFolderNames(string $typed, string $name): void
    {
        self::assertSame($name, PortableName::readable($typed));
    }

    /** @return iterable<string, array{string, string}> */
    public static function readable(): iterable
    {
        // reserved characters and names of FAT, exFAT and NTFS; one well-known editor cannot read | (common practice)
        yield 'kept as typed' => ['Kiln opening, Saltmarsh Pottery', 'Kiln opening, Saltmarsh Pottery'];
        yield 'colon and bar' => ['Kiln opening: day 2|3', 'Kiln opening - day 2 - 3'];
        yield 'slashes' => ['before/after\\ever', 'before-after-ever'];
        yield 'only forbidden characters' => ['???***', ''];
        yield 'blanks and dots at the ends' => ['  ..Regatta. . ', 'Regatta'];
        yield 'inner blanks' => ["Lantern \t  Regatta", 'Lantern Regatta'];
        yield 'device names' => ['con', 'con_'];
        yield 'device name with an extension' => ['LPT1.txt', 'LPT1.txt_'];
        yield 'not a device name' => ['console', 'console'];
        yield 'decomposed becomes composed (UAX #15)' => ["Cafe\u{301}", "Caf\u{e9}"];
        yield 'other scripts and emoji' => ['灯籠祭り 🏮', '灯籠祭り 🏮'];
        yield 'invisible characters' => ["Rega\u{200B}tta\u{202E}", 'Rega tta'];
        yield 'an accent that meets its letter when a quote goes' => ["a\"\u{301}", "\u{e1}"];
        yield 'broken UTF-8' => ["Reg\xFFatta", 'Regatta'];
    }

    #[DataProvider('words')]
    public function testFileWords(string $typed, string $word): void
    {
        self::assertSame($word, LetterCase::Lower->of(PortableName::joined($typed, '-')));
    }

    /** @return iterable<string, array{string, string}> */
    public static function words(): iterable
    {
        yield 'blanks and punctuation' => ['Kiln opening, Saltmarsh Pottery', 'kiln-opening-saltmarsh-pottery'];
        yield 'apostrophe' => ['Ines’s boat', 'iness-boat'];
        yield 'accents are kept' => ['Été à Tarn', 'été-à-tarn'];
        yield 'nothing left' => ['!?', ''];
        yield 'other scripts' => ['Праздник 灯', 'праздник-灯'];
    }

    public function testFilesOfAFrameShareOneStem(): void
    {
        $files = array_map(
            static fn (string $path): CardFile => new CardFile($path, FileKind::ofName($path), 1, 0),
            ['D/T1.TRW', 'D/T1.JPG', 'D/T1.WAV', 'D/T1.xmp', 'D/T1.TRW.XMP'],
        );
        self::assertSame(
            ['n.trw', 'n.jpg', 'n.wav', 'n.xmp', 'n.trw.xmp'],
            FrameFileNames::of('n', $files, LetterCase::Lower),
        );
        self::assertSame(
            ['n.TRW', 'n.JPG', 'n.WAV', 'n.xmp', 'n.TRW.XMP'],
            FrameFileNames::of('n', $files, LetterCase::Kept),
        );
    }

    public function testPiecesOfAMovieShareOneStemInTheirOrder(): void
    {
        $files = array_map(
            static fn (string $path): CardFile => new CardFile($path, FileKind::ofName($path), 1, 0),
            [
                'D/GX010012.MP4', 'D/GX020012.MP4', 'D/GL010012.LRV', 'D/GX010012.THM', 'D/GX020012.thm',
                'D/T1.JPG.pp3', 'D/T1',
            ],
        );
        self::assertSame(
            ['n.mp4', 'n.2.mp4', 'n.lrv', 'n.thm', 'n.2.thm', 'n.jpg.pp3', 'n'],
            FrameFileNames::of('n', $files, LetterCase::Lower),
        );
    }

    public function testAnyTypedTextMakesAPortableNameThatIsStableAndReallyCanBeCreated(): void
    {
        $this->limitTo(300)->forAll(Generators::oneOf(Generators::string(), Generators::map(
            static fn (array $points): string => implode(
                '',
                array_map(
                    static fn (mixed $point): string => \is_int($point) ? mb_chr($point) : '',
                    $points,
                ),
            ),
            Generators::seq(
                Generators::oneOf(
                    Generators::choose(1, 0x24F),
                    Generators::choose(0x300, 0x36F),
                    Generators::choose(0x1F300, 0x1F9FF),
                    Generators::choose(0xAC00, 0xD7A3),
                ),
            ),
        )))->then(function (mixed $typed): void {
            \assert(\is_string($typed));
            foreach ([
                PortableName::readable($typed, 200),
                trim(PortableName::cut(PortableName::joined($typed, '-'), 160), '-'),
            ] as $n => $name) {
                self::assertLessThanOrEqual([201, 160][$n], \strlen($name));
                self::assertTrue(\Normalizer::isNormalized($name));
                self::assertDoesNotMatchRegularExpression('~[<>:"/\\\\|?*\x00-\x1F\x7F]|^[ .]|[ .]$~', $name);
                self::assertSame(
                    $name,
                    0 === $n
                        ? PortableName::readable($name, 201)
                        : trim(PortableName::cut(PortableName::joined($name, '-'), 160), '-'),
                    'a portable name stays as it is',
                );
                if ('' !== $name) {
                    touch($this->folder.'/'.$name);
                    self::assertContains($name, (array) scandir($this->folder));
                    unlink($this->folder.'/'.$name);
                }
            }
        });
    }
}
