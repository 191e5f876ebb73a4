<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Bytes\StreamedRanges;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Copy\CopiedFile;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\PageCache;
use Velvet\Core\Copy\SourceUnreadable;
use Velvet\Core\Copy\TakenOver;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Copy\VerifyMismatch;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\Splice;
use Velvet\Core\Metadata\StreamedSplice;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Core\Tests\TemporaryFolder;

/** Several files at once, and words that are written into them on their way. */
final class CopiesTogetherTest extends TestCase
{
    use TemporaryFolder;

    private const TIME = 1_777_716_000;

    /** exiftool and xxh128sum from Debian, written by others. */
    #[DataProvider('kinds')]
    public function testWordsAreWrittenIntoAFileOnItsWay(string $extension, PictureFile $kind): void
    {
        $source = $this->file("card/a.$extension", Samples::of($extension));
        $received = (string) file_get_contents($source);
        $copied = $this->copier(4096)->copyAll([$this->withWords($source, ['shelf/a', 'twin/a'], $kind)])[0];
        self::assertInstanceOf(CopiedFile::class, $copied);
        self::assertStringEqualsFile($source, $received, 'the card stays as it is');
        self::assertFileEquals($this->folder.'/shelf/a', $this->folder.'/twin/a');
        self::assertSame(self::TIME, filemtime($this->folder.'/shelf/a'));
        self::assertEquals(self::sumOf($source), $copied->received->content->hex);
        self::assertEquals(self::sumOf($this->folder.'/shelf/a'), $copied->written?->digests->content->hex);
        self::assertEquals(Fingerprint::ofPath($this->folder.'/shelf/a'), $copied->written?->fingerprint->hex);
        self::assertSame(filesize($this->folder.'/shelf/a'), $copied->written?->bytes);
        self::assertSame(
            "Ines Varga-Holt\nTarn Hollow",
            trim((string) shell_exec(
                'exiftool -s3 -XMP-dc:Creator -XMP-dc:Subject '.escapeshellarg($this->folder.'/shelf/a'),
            )),
        );
        // to the bit what is written into a file that lies there already
        $behind = '';
        MetadataCopy::of(
            $kind,
            FileBytes::open($source),
            self::says(),
            self::history(),
            static function (string $bytes) use (&$behind): void {
                $behind .= $bytes;
            },
            function () use (&$behind): FileBytes {
                return FileBytes::open($this->file('behind', $behind));
            },
        );
        self::assertStringEqualsFile($this->folder.'/shelf/a', $behind);
        self::assertSame(MetadataCopy::pictureDigest($kind, FileBytes::open($source)), $copied->picture);
    }

    /** @return iterable<string, array{string, PictureFile}> */
    public static function kinds(): iterable
    {
        yield 'JPEG' => ['jpg', new JpegFile()];
        yield 'PNG' => ['png', new PngFile()];
        yield 'TIFF' => ['tif', new TiffFile()];
    }

    public function testAFileThatCannotHoldWordsIsCopiedAsItIs(): void
    {
        $broken = $this->file('card/a.jpg', substr(Samples::plainJpeg(), 0, 30));
        $silent = $this->file('card/b.jpg', Samples::plainJpeg());
        [$one, $other] = $this->copier()->copyAll([
            $this->withWords($broken, ['shelf/a.jpg'], new JpegFile()),
            $this->withWords(
                $silent,
                ['shelf/b.jpg'],
                new JpegFile(),
                static fn () => throw StructureBroken::because('x'),
            ),
        ]);
        self::assertInstanceOf(CopiedFile::class, $one);
        self::assertInstanceOf(CopiedFile::class, $other);
        self::assertNull($one->written);
        self::assertNull($other->written);
        self::assertFileEquals($broken, $this->folder.'/shelf/a.jpg');
        self::assertFileEquals($silent, $this->folder.'/shelf/b.jpg');
    }

    public function testAPictureThatIsAnotherOneInTheNewFileIsNeverPlaced(): void
    {
        $source = $this->file('card/a.jpg', Samples::plainJpeg());
        $other = substr_replace(Samples::plainJpeg(), 'torn', -60, 4);
        $outcome = $this->copier()->copyAll([
            $this->withWords($source, ['shelf/a.jpg'], new JpegFile(), static fn () => new Splice([$other])),
        ])[0];
        self::assertInstanceOf(VerifyMismatch::class, $outcome);
        self::assertSame([], $this->left('shelf'));
    }

    public function testWhatFailsLeavesTheOthersAlone(): void
    {
        foreach (['a', 'b', 'c', 'd', 'e'] as $name) {
            $this->file("card/$name", str_repeat($name, 10_000));
        }
        $this->file('shelf/c', 'precious');
        $gone = $this->one('b');
        unlink($this->folder.'/card/b');
        $flipping = new class implements DriveCache {
            public function forget(string $path): void
            {
                if (str_contains($path, '/twin/.t-d')) {
                    file_put_contents($path, str_repeat('~', 10_000));
                }
            }

            public function fetch(string $path): void
            {
            }
        };
        $outcomes = (new VerifiedCopy($flipping))->copyAll(
            [$this->one('a'), $gone, $this->one('c'), $this->one('d'), $this->one('e')],
            $watch = new CountingWatch(),
        );
        self::assertSame(
            [CopiedFile::class, SourceUnreadable::class, NameTaken::class, VerifyMismatch::class, CopiedFile::class],
            array_map(get_class(...), $outcomes),
        );
        self::assertSame(['reading', 40_000, 'verifying', 80_000], $watch->told);
        self::assertSame(['a', 'c', 'e'], $this->left('shelf'));
        self::assertSame(['a', 'e'], $this->left('twin'));
        self::assertStringEqualsFile($this->folder.'/shelf/c', 'precious');
    }

    /** What is fetched early comes from the drive all the same: it was forgotten before, each copy of each file. */
    public function testEveryCopyIsForgottenBeforeItIsFetched(): void
    {
        foreach (['a', 'b'] as $name) {
            $this->file("card/$name", str_repeat($name, 10_000));
        }
        $log = new class implements DriveCache {
            /** @var list<string> */
            public array $told = [];

            public function forget(string $path): void
            {
                $this->told[] = 'forget '.implode('/', \array_slice(explode('/', $path), -2));
            }

            public function fetch(string $path): void
            {
                $this->told[] = 'fetch '.implode('/', \array_slice(explode('/', $path), -2));
            }
        };
        (new VerifiedCopy($log))->copyAll([$this->one('a'), $this->one('b')]);
        $copies = ['shelf/.t-a', 'twin/.t-a', 'shelf/.t-b', 'twin/.t-b'];
        self::assertSame(
            [
                'fetch card/a', 'fetch card/b',
                ...array_merge(...array_map(
                    static fn (string $copy): array => ["forget $copy.velvet-part", "fetch $copy.velvet-part"],
                    $copies,
                )),
            ],
            $log->told,
        );
    }

    public function testWhatSomebodyElseTookOverGetsNoNameFromHere(): void
    {
        foreach (['a', 'b', 'c'] as $name) {
            $this->file("card/$name", str_repeat($name, 10_000));
        }
        $watch = new CountingWatch();
        $watch->takenOver = [1];
        $outcomes = $this->copier()->copyAll([$this->one('a'), $this->one('b'), $this->one('c')], $watch);
        self::assertSame(
            [CopiedFile::class, TakenOver::class, CopiedFile::class],
            array_map(get_class(...), $outcomes),
        );
        self::assertSame([['a', 'c'], ['a', 'c']], [$this->left('shelf'), $this->left('twin')]);
    }

    public function testWhatAnAttemptPlacedThatWasCutOffGivesWayAndNothingElse(): void
    {
        $source = $this->file('card/a.jpg', Samples::plainJpeg());
        $this->file('shelf/a.jpg', 'placed before the lights went out');
        $again = fn (?string $cutOff): FileToCopy => $this->withWords(
            $source,
            ['shelf/a.jpg', 'twin/a.jpg'],
            new JpegFile(),
            cutOff: null === $cutOff ? null : Digest::ofBytes($cutOff),
        );
        foreach ([null, 'something else'] as $cutOff) {
            self::assertInstanceOf(NameTaken::class, $this->copier()->copyAll([$again($cutOff)])[0]);
            self::assertStringEqualsFile($this->folder.'/shelf/a.jpg', 'placed before the lights went out');
            self::assertSame([], $this->left('twin'));
        }
        $copied = $this->copier()->copyAll([$again('placed before the lights went out')])[0];
        self::assertInstanceOf(CopiedFile::class, $copied);
        self::assertTrue($copied->digest()->isOfFile($this->folder.'/shelf/a.jpg'));
        self::assertTrue($copied->digest()->isOfFile($this->folder.'/twin/a.jpg'));
        self::assertSame(['a.jpg'], $this->left('shelf'));
    }

    public function testARootThatIsGoneIsNotMadeAnew(): void
    {
        $this->file('card/a', 'a');
        mkdir($this->folder.'/twin');
        $target = $this->folder.'/twin/a';
        $ground = Ground::at($this->folder.'/twin') ?? self::fail('It is there.');
        rmdir($this->folder.'/twin');
        $outcome = $this->copier()->copyAll([
            new FileToCopy($this->folder.'/card/a', 1, self::TIME, [$target], 't', grounds: [$target => $ground]),
        ])[0];
        self::assertInstanceOf(DriveGone::class, $outcome);
        self::assertDirectoryDoesNotExist($this->folder.'/twin');
    }

    public function testASpliceIsTheSameInWhateverPiecesItsFileComes(): void
    {
        $old = 'abcdefghijklmnopqrstuvwxyz';
        $range = static fn (int $at, int $length): ByteRange => ByteRange::within(26, $at, $length) ?? self::fail();
        $splice = new Splice(['<', $range(0, 3), '-', '+', $range(5, 1), $range(6, 9), '!', $range(20, 6), '>']);
        self::assertTrue($splice->isInOrder());
        self::assertFalse((new Splice([$range(5, 2), $range(0, 3)]))->isInOrder());
        self::assertFalse((new Splice([$range(0, 3), $range(2, 3)]))->isInOrder());
        foreach ([1, 2, 3, 5, 7, 25, 26, 40] as $size) {
            $streamed = new StreamedSplice($splice);
            $ranges = StreamedRanges::of([$range(24, 2), $range(1, 4), $range(5, 2)]) ?? self::fail();
            $new = '';
            foreach (str_split($old, $size) as $chunk) {
                $new .= $streamed->take($chunk);
                $ranges->update($chunk);
            }
            self::assertSame('<abc-+fghijklmno!uvwxyz>', $new, "in pieces of $size");
            self::assertTrue($streamed->isDone());
            self::assertSame(\strlen($new), $splice->bytes());
            self::assertSame(Digest::ofBytes('bcdefgyz')->hex, $ranges->finished(), "in pieces of $size");
        }
        self::assertNull(StreamedRanges::of([$range(1, 4), $range(3, 4)]), 'they overlap');
        $cut = new StreamedSplice($splice);
        $cut->take(substr($old, 0, 25));
        self::assertFalse($cut->isDone(), 'the file ended too early');
    }

    private function one(string $name): FileToCopy
    {
        return new FileToCopy(
            $this->folder.'/card/'.$name,
            10_000,
            self::TIME,
            [$this->folder.'/shelf/'.$name, $this->folder.'/twin/'.$name],
            't-'.$name,
        );
    }

    /**
     * @param non-empty-list<string>             $targets
     * @param (\Closure(FileBytes): Splice)|null $words   null: what {@see self::says()}
     */
    private function withWords(
        string $source,
        array $targets,
        PictureFile $kind,
        ?\Closure $words = null,
        ?Digest $cutOff = null,
    ): FileToCopy {
        return new FileToCopy(
            $source,
            (int) filesize($source),
            self::TIME,
            array_map(fn (string $target): string => $this->folder.'/'.$target, $targets),
            't-'.basename($source),
            kind: $kind,
            words: $words ?? static fn (FileBytes $bytes): Splice => $kind->with($bytes, self::says(), self::history()),
            cutOff: $cutOff,
        );
    }

    private static function says(): Metadata
    {
        return new Metadata(['creator' => 'Ines Varga-Holt'], ['Tarn Hollow']);
    }

    private static function history(): History
    {
        return new History(new \DateTimeImmutable('2026-05-02 22:00:00 UTC'));
    }

    private static function sumOf(string $path): string
    {
        return explode(' ', (string) shell_exec('xxh128sum '.escapeshellarg($path)))[0];
    }

    /** @param int<4096, max> $chunk */
    private function copier(int $chunk = 1024 * 1024): VerifiedCopy
    {
        return new VerifiedCopy(new PageCache(), $chunk);
    }

    /** @return list<string> all that lies in a folder, hidden files included */
    private function left(string $folder): array
    {
        $names = is_dir($this->folder.'/'.$folder) ? scandir($this->folder.'/'.$folder) : [];

        return array_values(array_diff(\is_array($names) ? $names : [], ['.', '..']));
    }
}
