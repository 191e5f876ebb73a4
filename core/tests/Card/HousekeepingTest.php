<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Card;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Card\Housekeeping;
use Velvet\Core\Card\Insertion;
use Velvet\Core\Tests\TemporaryFolder;

/** Which files need not be filed for a card to be cleared. */
final class HousekeepingTest extends TestCase
{
    use TemporaryFolder;

    public function testWhatComputersAndCamerasKeepForThemselves(): void
    {
        foreach ([
            'MISC/AUTPRINT.MRK' => '[HDR]', 'System Volume Information/WPSettings.dat' => "\x0C\0\0\0",
            'System Volume Information/IndexerVolumeGuid' => '{', '.DS_Store' => "\0\0\0\1Bud1",
            'DCIM/100TARNO/.DS_Store' => "\0\0\0\1Bud1", 'DCIM/100TARNO/._TARA0001.JPG' => "\0\x05\x16\x07\0\2",
            '.fseventsd/fseventsd-uuid' => 'A', '.fseventsd/0000000000a1b2c3' => "\x1E",
            '.nomedia' => '', 'AVF_INFO/AVIN0001.BNP' => 'x',
        ] as $path => $content) {
            self::assertNotNull($this->rule($path, $content), $path);
        }
    }

    public function testAnythingElseStandsAgainstFormatting(): void
    {
        foreach ([
            'MISC/IMG_0002.JPG', 'MISC/OTHER.MRK', 'DCIM/MISC/AUTPRINT.MRK', '.hidden.jpg', 'A001.CRM', 'A.NEV',
            'A.BRAW', 'A.MPO', 'A.MPG', 'A.INSV', 'A.JP2', 'A.GIF', 'A.BMP', 'A.PSD', 'A.JFIF',
            'A.MKV', 'A.WMV', 'A.LRV', 'A.360', 'DCIM/100TARNO/TARA0001', 'DCIM/100TARNO/TARA0001.JPG ', 'notes.txt',
            'System Volume Information/tracking.log', '.Trashes/501/a.jpg', 'LOST.DIR/12',
            '.fseventsd/picture.jpg', 'AVF_INFO/AVIN0001.JPG', 'Thumbs.db',
        ] as $path) {
            self::assertNull($this->rule($path, 'whatever'), $path);
        }
    }

    /** Signatures of their specifications (from memory). */
    public function testANameProvesNothing(): void
    {
        foreach ([
            "\xFF\xD8\xFF\xE0",
            "\x89PNG",
            "II*\0",
            "MM\0*",
            "\0\0\0\x18ftypheic",
            "RIFF\0\0\0\0WAVE",
            "\x1AE\xDF\xA3",
            'GIF89a',
            'PK',
        ] as $content) {
            self::assertNull($this->rule('MISC/AUTPRINT.MRK', $content), bin2hex($content));
            self::assertNull($this->rule('.DS_Store', $content), bin2hex($content));
        }
        self::assertNull($this->rule('DCIM/100TARNO/._TARA0001.JPG', "\xFF\xD8\xFF\xE0"), 'no AppleDouble file');
        self::assertNull($this->rule('.DS_Store', str_repeat("\0", 9 * 1024 * 1024)), 'larger than any of them');
        self::assertNull(
            Housekeeping::rule(new CardFile('.DS_Store', FileKind::Other, 4, 0), $this->folder.'/gone'),
            'what cannot be read is not known',
        );
    }

    public function testTheListIsPublished(): void
    {
        $published = (string) file_get_contents(\dirname(__DIR__, 3).'/docs/formats.md');
        foreach (array_keys(Housekeeping::rules()) as $rule) {
            self::assertStringContainsString($rule, $published);
        }
    }

    public function testAListingIsSealedWithNamesSizesAndTimes(): void
    {
        $file = $this->file('card/DCIM/100TARNO/TARA0001.JPG', 'abc');
        $card = $this->folder.'/card';
        $seals = [CardWalk::of($card)->seal()];
        self::assertSame($seals[0], CardWalk::of($card)->seal());
        $seals[] = $this->after(fn () => $this->file('card/DCIM/100TARNO/TARA0002.JPG', 'abc'));
        $seals[] = $this->after(static function () use ($file): void {
            $time = (int) filemtime($file);
            file_put_contents($file, 'abd');
            touch($file, $time);
        });
        $seals[] = $this->after(static fn () => rename($file, $file.'x'));
        $seals[] = $this->after(static fn () => unlink($file.'x'));
        $seals[] = $this->after(static fn () => symlink('/etc/passwd', $card.'/link'));
        self::assertSame($seals, array_values(array_unique($seals)));
    }

    /** A card that was out, or another one of its name, is another stay in the reader. */
    public function testAnInsertionIsOneStay(): void
    {
        $this->file('bay/CARD/DCIM/a.jpg', 'one');
        $card = $this->folder.'/bay/CARD';
        $insertion = Insertion::at($card);
        self::assertNotNull($insertion);
        self::assertSame($insertion, Insertion::at($card));
        $this->file('bay/CARD/DCIM/b.jpg', 'two');
        self::assertSame($insertion, Insertion::at($card), 'what lies in its folders is the listing’s');
        rename($card, $this->folder.'/out');
        self::assertNull(Insertion::at($card));
        $this->file('bay/CARD/DCIM/a.jpg', 'one');
        self::assertNotSame($insertion, Insertion::at($card), 'another card of the same name');
        self::assertNotNull(Insertion::at('/dev/shm'));
        self::assertNotSame(Insertion::at('/dev/shm'), $insertion);
    }

    /** @param \Closure(): mixed $do */
    private function after(\Closure $do): string
    {
        $do();

        return CardWalk::of($this->folder.'/card')->seal();
    }

    private function rule(string $path, string $content): ?string
    {
        $this->file('card/'.$path, $content);

        return Housekeeping::rule(new CardFile($path, FileKind::Other, \strlen($content), 0), $this->folder.'/card');
    }
}
