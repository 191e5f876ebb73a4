<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Card;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\CardProblem;
use Velvet\Core\Card\CardSign;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Card\Frame;
use Velvet\Core\Card\Signature;
use Velvet\Core\Tests\TemporaryFolder;

final class CardWalkTest extends TestCase
{
    use TemporaryFolder;

    public function testListsEveryFileWithKindAndSize(): void
    {
        $this->file('DCIM/100TARNO/TARA0001.JPG', 'abc');
        $this->file('DCIM/100TARNO/TARA0001.TRW', 'abcd');
        $this->file('DCIM/100TARNO/ein schöner Tag 📷.jpeg', 'ab');
        $this->file('DCIM/100TARNO/TARA0001.WAV');
        $this->file('notes.txt');
        $listing = CardWalk::of($this->folder);
        self::assertSame([
            'DCIM/100TARNO/TARA0001.JPG' => 'jpeg', 'DCIM/100TARNO/TARA0001.TRW' => 'raw',
            'DCIM/100TARNO/TARA0001.WAV' => 'audio',
            'DCIM/100TARNO/ein schöner Tag 📷.jpeg' => 'jpeg', 'notes.txt' => 'other',
        ], array_combine(
            array_column($listing->files, 'path'),
            array_map(static fn (CardFile $file): string => $file->kind->value, $listing->files),
        ));
        self::assertSame(3 + 4 + 2 + 1 + 1, $listing->bytes());
        self::assertSame([], $listing->problems);
    }

    public function testFollowsNoSymbolicLink(): void
    {
        $this->file('DCIM/a.jpg');
        symlink('/etc/passwd', $this->folder.'/DCIM/out.jpg');
        symlink('/', $this->folder.'/DCIM/everything');
        symlink('a.jpg', $this->folder.'/DCIM/inside.jpg');
        $listing = CardWalk::of($this->folder);
        self::assertSame(['DCIM/a.jpg'], array_column($listing->files, 'path'));
        self::assertSame(['symbolic_link', 'symbolic_link', 'symbolic_link'], array_column($listing->problems, 'code'));
        self::assertStringContainsString('was not followed', $listing->problems[0]->text);
    }

    public function testAnUnreadableFolderIsTold(): void
    {
        $this->file('DCIM/100TARNO/a.jpg');
        $this->file('DCIM/101TARNO/b.jpg');
        chmod($this->folder.'/DCIM/100TARNO', 0);
        $listing = $this->asNobody(fn () => CardWalk::of($this->folder));
        self::assertSame(['DCIM/101TARNO/b.jpg'], array_column($listing->files, 'path'));
        self::assertSame(['folder_unreadable'], array_column($listing->problems, 'code'));
        self::assertStringContainsString(
            '“DCIM/100TARNO” could not be opened (permission denied)',
            $listing->problems[0]->text,
        );
        self::assertTrue($listing->problems[0]->leavesFramesBehind);
    }

    public function testHiddenAndHousekeepingFilesMakeNoFrames(): void
    {
        $this->file('DCIM/100TARNO/._TARA0001.JPG', "\0\x05\x16\x07\0\2");
        $this->file('.Trashes/501/TARA0001.JPG', 'no picture');
        $this->file('System Volume Information/a.jpg', 'no picture');
        $this->file('MISC/b.jpg', 'no picture');
        self::assertSame(
            [FileKind::Other, FileKind::Other, FileKind::Other, FileKind::Other],
            array_column(CardWalk::of($this->folder)->files, 'kind'),
        );
        self::assertSame([], CardWalk::of($this->folder)->frames($this->folder)->frames);
    }

    /** Each begins as its kind does (signatures from memory); names and places say otherwise, or nothing. */
    #[TestWith(['Misc/IMG_0002.JPG', "\xFF\xD8\xFF\xE0", FileKind::Jpeg])]
    #[TestWith(['.hidden/a.jpg', "\xFF\xD8\xFF\xE1", FileKind::Jpeg])]
    #[TestWith(['.hidden/a.trw', "II*\0", FileKind::Raw])]
    #[TestWith(['LOST.DIR/12', "\0\0\0\x18ftypmp42", FileKind::Movie])]
    #[TestWith(['DCIM/100TARNO/TARA0001', "\xFF\xD8\xFF\xE1", FileKind::Jpeg])]
    #[TestWith(['DCIM/100TARNO/TARA0001.BAK', "II*\0", FileKind::Tiff])]
    #[TestWith(['notes.txt', "\0\0\0\x18ftypheic", FileKind::Heif])]
    #[TestWith(['A001.XYZ', "\0\0\0\x18ftypcrx ", FileKind::Raw])]
    #[TestWith(['A.IDX', "RIFF\x10\0\0\0WAVE", FileKind::Audio])]
    #[TestWith(['A.X', 'GIF89a', FileKind::Png])]
    #[TestWith(['A001.CRM', 'whatever', FileKind::Movie])]
    #[TestWith(['A.NEV', 'whatever', FileKind::Movie])]
    #[TestWith(['A.BRAW', 'whatever', FileKind::Movie])]
    #[TestWith(['A.MPO', 'whatever', FileKind::Jpeg])]
    #[TestWith(['A.MPG', 'whatever', FileKind::Movie])]
    #[TestWith(['A.INSV', 'whatever', FileKind::Movie])]
    #[TestWith(['A.LRV', 'whatever', FileKind::Movie])]
    #[TestWith(['A.360', 'whatever', FileKind::Movie])]
    #[TestWith(['A.GPR', 'whatever', FileKind::Raw])]
    public function testContentDecides(string $path, string $content, FileKind $kind): void
    {
        $this->file($path, $content);
        $listing = CardWalk::of($this->folder)->frames($this->folder);
        self::assertSame([], $listing->others);
        self::assertSame([[$kind, $path]], array_map(
            static fn (Frame $frame): array => [$frame->leading()->kind, $frame->leading()->path],
            $listing->frames,
        ));
    }

    public function testATransportStreamIsKnownByItsPackets(): void // ISO 13818-1, 2.4.3.2
    {
        $packet = "\x47".str_repeat("\0", 187);
        self::assertSame(FileKind::Movie, Signature::kind($packet.$packet));
        self::assertSame(FileKind::Movie, Signature::kind('time'.$packet.'time'.$packet), 'as AVCHD has it');
        self::assertNull(Signature::kind('Good morning'.str_repeat(' ', 200)));
    }

    public function testAPipeIsNotOpened(): void
    {
        posix_mkfifo($this->folder.'/pipe.jpg', 0o666);
        self::assertSame(
            ['file_unreadable'],
            array_map(
                static fn (CardProblem $problem): string => $problem->code,
                CardWalk::of($this->folder)->problems,
            ),
        );
    }

    public function testANameThatIsNoTextIsTold(): void
    {
        $this->file("caf\xE9.jpg");
        $listing = CardWalk::of($this->folder);
        self::assertSame([], $listing->files);
        self::assertSame(['name_not_text'], array_column($listing->problems, 'code'));
    }

    public function testEndsWhereFoldersAreTooDeep(): void
    {
        $this->file(str_repeat('d/', 30).'a.jpg');
        $listing = CardWalk::of($this->folder);
        self::assertSame([], $listing->files);
        self::assertSame(['folder_too_deep'], array_column($listing->problems, 'code'));
    }

    public function testAMissingCardIsASentence(): void
    {
        $this->expectExceptionObject(CardUnreadable::missing($this->folder.'/gone'));
        CardWalk::of($this->folder.'/gone');
    }

    public function testAFileIsNoCard(): void
    {
        $this->expectException(CardUnreadable::class);
        CardWalk::of($this->file('a.jpg'));
    }

    public function testTheSignOfACard(): void
    {
        self::assertFalse(CardSign::isOn($this->folder));
        $this->file('letters/a.txt');
        self::assertFalse(CardSign::isOn($this->folder));
        $this->file('a.jpg');
        self::assertTrue(CardSign::isOn($this->folder));
        $this->file('camera/dcim/100TARNO/a.jpg');
        self::assertTrue(CardSign::isOn($this->folder.'/camera'));
        self::assertFalse(CardSign::isOn($this->folder.'/gone'));
        $this->file('clips/PRIVATE/M4ROOT/CLIP/C0001.MP4');
        $this->file('larger/XDROOT/Clip/742_0001.MXF');
        self::assertTrue(CardSign::isOn($this->folder.'/clips'), 'a card of movies alone');
        self::assertTrue(CardSign::isOn($this->folder.'/larger'), 'the same of a larger camera');
        $this->file('stick/PRIVATE/letters/a.txt');
        self::assertFalse(CardSign::isOn($this->folder.'/stick'));
    }

    /**
     * Root may open everything; the test gives that up for the length of the call.
     *
     * @template T
     *
     * @param \Closure(): T $call
     *
     * @return T
     */
    private function asNobody(\Closure $call): mixed
    {
        $root = 0 === posix_geteuid();
        if ($root) {
            chmod($this->folder, 0o755);
            posix_seteuid(65534);
        }
        try {
            return $call();
        } finally {
            if ($root) {
                posix_seteuid(0);
            }
        }
    }
}
