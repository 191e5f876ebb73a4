<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\CopyPlace;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\DngState;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FilePlaces;
use Velvet\Core\Filed\KeptCopy;
use Velvet\Core\Filed\MadeDng;
use Velvet\Core\Filed\OutsideLook;
use Velvet\Core\Filed\Received;
use Velvet\Core\Filed\Repair;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Core\Tests\TemporaryFolder;

/** What another program did to a filed file, and how it is found. */
final class OutsideLookTest extends TestCase
{
    use TemporaryFolder;

    private const TIME = 1_777_716_000;

    public function testNothingIsFoundWhereNobodyWroteToIt(): void
    {
        [$file, $places] = $this->filed();
        self::assertFalse((new OutsideLook($file, $places, []))->findsAnything());
        touch($places->connected[0].'/a.jpg', self::TIME + 2); // FAT keeps times to two seconds
        self::assertNull((new OutsideLook($file, $places, []))->change());
        touch($places->connected[0].'/a.jpg', self::TIME + 60);
        self::assertNull((new OutsideLook($file, $places, []))->change(), 'its content is the same');
    }

    public function testWordsThatAnotherProgramWroteAreFoundAndThePictureIsTheSame(): void
    {
        [$file, $places] = $this->filed();
        $this->edit($places->connected[1].'/a.jpg', new Metadata(['headline' => 'Quay']));
        $look = new OutsideLook($file, $places, []);
        $change = $look->change();
        self::assertNotNull($change);
        self::assertSame(
            [$places->connected[1], 'a.jpg', 'Quay', false],
            [$change->root, $change->path, $change->says->text(Field::Headline), $change->pictureChanged],
        );
        self::assertTrue($change->content->digest->isOfFile($places->connected[1].'/a.jpg'));
        self::assertSame('a.jpg', $look->target($change)->path);
        self::assertTrue($look->findsAnything());
        self::assertTrue($look->isOfNoConcern($change, []));
        self::assertFalse(
            $look->isOfNoConcern($change, [['field' => 'headline', 'ours' => '', 'theirs' => 'Quay']]),
        );
    }

    public function testAnotherPictureIsNeverOfNoConcern(): void
    {
        [$file, $places] = $this->filed();
        $jpeg = Samples::plainJpeg();
        $scan = (int) strpos($jpeg, "\xFF\xDA") + 20;
        file_put_contents($places->connected[0].'/a.jpg', substr_replace($jpeg, "\x01\x02\x03", $scan, 3));
        $look = new OutsideLook($file, $places, []);
        $change = $look->change();
        self::assertTrue($change?->pictureChanged);
        self::assertFalse($look->isOfNoConcern($change, []));
    }

    public function testWhatIsDamagedIsNoChange(): void
    {
        [$file, $places] = $this->filed();
        file_put_contents($places->connected[0].'/a.jpg', substr(Samples::plainJpeg(), 0, 30));
        self::assertNull((new OutsideLook($file, $places, []))->change(), 'a check of the drives says it');
        unlink($places->connected[0].'/a.jpg');
        self::assertNull((new OutsideLook($file, $places, []))->change());
    }

    public function testNothingIsSaidWhileOursIsOnItsWay(): void
    {
        [$file, $places] = $this->filed();
        $file->metadataAsked();
        $file->writingBegan($file->wanted(), new Content(Digest::ofBytes('new'), 3));
        $this->edit($places->connected[0].'/a.jpg', new Metadata(['headline' => 'Quay']));
        self::assertNull((new OutsideLook($file, $places, []))->change());
    }

    public function testASidecarThatIsNotOursIsFound(): void
    {
        [$file, $places] = $this->filed('2026/a.trw', FileKind::Raw, 'raw');
        $sidecar = SidecarFile::fresh(new Metadata(['headline' => 'Quay']), self::history());
        file_put_contents($places->connected[0].'/2026/a.xmp', $sidecar);
        $change = (new OutsideLook($file, $places, []))->change();
        self::assertSame(
            ['2026/a.xmp', 'Quay', false],
            [$change?->path, $change?->says->text(Field::Headline), $change?->pictureChanged],
        );
    }

    public function testACopyThatStayedBehindIsNoChangeFromOutside(): void
    {
        [$file, $places] = $this->filed();
        [$shelf, $twin] = [$places->connected[0], $places->connected[1]];
        $this->edit($shelf.'/a.jpg', new Metadata(['headline' => 'Quay']));
        $new = new Content(Digest::ofFile($shelf.'/a.jpg'), (int) filesize($shelf.'/a.jpg'));
        $file->metadataAsked();
        $file->writingBegan($file->wanted(), $new);
        $file->written((int) filemtime($shelf.'/a.jpg'), '');
        $copy = new KeptCopy(
            7, 3, 'a.jpg', new CopyPlace(2, $twin, '', true, []), $new, Digest::ofFile($twin.'/a.jpg'),
            CopyStanding::Whole, '', '', null,
        );
        $look = new OutsideLook($file, $places, [$copy]);
        self::assertNull($look->change());
        self::assertTrue($look->findsAnything());
        self::assertEquals([$shelf.'/a.jpg', [$twin => Digest::ofFile($twin.'/a.jpg')]], $look->behind());
        unlink($shelf.'/a.jpg');
        self::assertNull($look->behind(), 'no copy has what the others should get');
    }

    /** A repair gives each place what was received; what one of them got since is not lost by it. */
    public function testARepairGoesToTheDamagedPlacesOnly(): void
    {
        [$file, $places] = $this->filed();
        [$shelf, $twin] = $places->connected;
        $both = [$shelf, $twin];
        self::assertSame($both, Repair::of($file, $both, $both)->roots, 'as it was received it is the same');
        self::assertSame([], Repair::of($file, $both, [])->roots);
        $this->edit($shelf.'/a.jpg', new Metadata(['headline' => 'Quay']));
        $file->metadataAsked();
        $file->writingBegan(
            $file->wanted(),
            new Content(Digest::ofFile($shelf.'/a.jpg'), (int) filesize($shelf.'/a.jpg')),
        );
        $file->written(self::TIME, '');
        self::assertSame([$twin], Repair::of($file, $both, $both)->roots);
        self::assertSame([], Repair::of($file, $both, [$shelf])->roots, 'what is whole stays as it is');
        $at = new \DateTimeImmutable('2026-05-04 10:00:00 UTC');
        Repair::of($file, $both, $both)->done($file, self::TIME, $at);
        self::assertNotNull($file->writing(), 'the repaired one gets what the other has');
        $file->written(self::TIME, '');
        unlink($shelf.'/a.jpg');
        Repair::of($file, $both, $both)->done($file, self::TIME, $at);
        self::assertNull($file->writing());
        self::assertNull($file->changed(), 'all of them are as they were received');
    }

    /** The raw file takes the place of no DNG that is whole somewhere, nor of one that may be. */
    public function testADngOfWhichNoCopyIsLeftIsTheRawFileAgain(): void
    {
        [$file, $places] = $this->filed('a.trw', FileKind::Raw, 'raw');
        [$shelf, $twin] = $places->connected;
        foreach ([$shelf, $twin] as $root) {
            file_put_contents($root.'/a.dng', 'dng');
        }
        $file->dngAsked(DngChoice::Instead);
        $file->becameDng(new MadeDng('a.dng', new Content(Digest::ofBytes('dng'), 3), str_repeat('5', 32)), false);
        $file->rawLeft();
        unlink($twin.'/a.dng');
        $inPart = Repair::of($file, [$shelf, $twin], [$shelf, $twin]);
        self::assertSame(
            [[$twin], 'a.dng', false, false],
            [$inPart->roots, $inPart->path, $inPart->isRawAgain, $inPart->mustWait()],
        );
        self::assertTrue(Repair::of($file, [$shelf, $twin], [$twin])->mustWait(), 'the shelf may have it');
        unlink($shelf.'/a.dng');
        $repair = Repair::of($file, [$shelf, $twin], [$shelf, $twin]);
        self::assertSame(
            [[$shelf, $twin], 'a.trw', true, false],
            [$repair->roots, $repair->path, $repair->isRawAgain, $repair->mustWait()],
        );
        $repair->done($file, self::TIME, new \DateTimeImmutable('2026-05-04 10:00:00 UTC'));
        self::assertSame(['a.trw', FileKind::Raw], [$file->path(), $file->kind()]);
        self::assertEquals($file->received(), $file->content());
        self::assertSame([DngState::Waiting, DngChoice::Instead], [$file->dngState(), $file->dngChoice()]);
        self::assertNull($file->rawPath());
    }

    /** @return array{FiledFile, FilePlaces} a file that lies on shelf and twin as it was received */
    private function filed(string $path = 'a.jpg', FileKind $kind = FileKind::Jpeg, ?string $bytes = null): array
    {
        $bytes ??= Samples::plainJpeg();
        $roots = [];
        foreach (['shelf', 'twin'] as $root) {
            touch($this->file($root.'/'.$path, $bytes), self::TIME);
            $roots[] = $this->folder.'/'.$root;
        }
        $picture = FileKind::Jpeg === $kind
            ? MetadataCopy::pictureDigest(new JpegFile(), FileBytes::open($roots[0].'/'.$path))
            : null;
        $file = FiledFile::filed(
            new FiledAs(2, 3, 4, $path),
            new Received(
                'DCIM/A',
                $kind,
                new Content(Digest::ofBytes($bytes), \strlen($bytes)),
                str_repeat('1', 32),
                self::TIME,
                $picture,
            ),
            new PlannedWords(),
            DngChoice::No,
            new \DateTimeImmutable('2026-05-03 10:00:00 UTC'),
        );
        $table = new class implements DriveTable {
            public function holding(string $path): Drive
            {
                return new Drive($path, $path, 'ext4', [$path]);
            }
        };

        return [$file, FilePlaces::of($roots[0], $roots[1], $roots, Drives::at($table, $roots))];
    }

    private function edit(string $path, Metadata $metadata): void
    {
        $new = $this->folder.'/new';
        $splice = (new JpegFile())->with(FileBytes::open($path), $metadata, self::history());
        $bytes = '';
        foreach ($splice->pieces as $piece) {
            $bytes .= \is_string($piece) ? $piece : FileBytes::open($path)->read($piece->offset, $piece->length);
        }
        file_put_contents($new, $bytes);
        rename($new, $path);
    }

    private static function history(): History
    {
        return new History(new \DateTimeImmutable('2026-05-03 10:00:00 UTC'));
    }
}
