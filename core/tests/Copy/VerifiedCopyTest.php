<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\DestinationUnwritable;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\ExclusiveRename;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Copy\LeadsAway;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\PageCache;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\SourceChanged;
use Velvet\Core\Copy\SourceUnreadable;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\Unwatched;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Copy\VerifyMismatch;
use Velvet\Core\Tests\TemporaryFolder;

final class VerifiedCopyTest extends TestCase
{
    use TemporaryFolder;

    private const TIME = 1_777_716_000;

    public function testCopiesToEveryPlaceAndKeepsTheTime(): void
    {
        $source = $this->file('card/a.jpg', random_bytes(3_000_001));
        $watch = new CountingWatch();
        $digest = $this->copy($source, ['shelf/2026/x.jpg', 'twin/2026/x.jpg'], watch: $watch);
        self::assertFileEquals($source, $this->folder.'/shelf/2026/x.jpg');
        self::assertFileEquals($source, $this->folder.'/twin/2026/x.jpg');
        self::assertSame(self::TIME, filemtime($this->folder.'/shelf/2026/x.jpg'));
        self::assertSame(['reading', 3_000_001, 'verifying', 6_000_002], $watch->told, 'read once, read back twice');
        self::assertSame([], $this->parts());
        // xxh128sum from Debian, written by the author of the algorithm
        self::assertSame(explode(' ', (string) shell_exec('xxh128sum '.escapeshellarg($source)))[0], $digest->hex);
    }

    /** sha256sum and b2sum from GNU coreutils, written by others. */
    public function testASecondDigestIsTakenOnTheWay(): void
    {
        $source = $this->file('card/a.jpg', random_bytes(300_000));
        foreach (['sha256sum' => SecondDigest::Sha256, 'b2sum' => SecondDigest::Blake2b] as $program => $second) {
            $digests = $this->copier()->copy($this->toCopy($source, ['shelf/'.$program.'.jpg'], second: $second));
            self::assertSame(
                explode(' ', (string) shell_exec($program.' '.escapeshellarg($source)))[0],
                $digests->second,
            );
            self::assertSame(
                [$digests->content->labelled(), $second->value.':'.$digests->second],
                $digests->labelled(),
            );
            self::assertSame($second->digits(), \strlen($digests->second ?? ''));
        }
    }

    public function testADamagedCopyIsPutAsideNotOverwritten(): void
    {
        $source = $this->file('card/a.jpg', 'as it was shot');
        $this->file('shelf/a.jpg', 'as it w~s shot');
        $this->file('shelf/a.jpg.damaged-1', 'an older one');
        $this->copy($source, ['shelf/a.jpg', 'twin/a.jpg'], repairs: true);
        self::assertStringEqualsFile($this->folder.'/shelf/a.jpg', 'as it was shot');
        self::assertStringEqualsFile($this->folder.'/twin/a.jpg', 'as it was shot');
        self::assertStringEqualsFile($this->folder.'/shelf/a.jpg.damaged-2', 'as it w~s shot');
        self::assertStringEqualsFile($this->folder.'/shelf/a.jpg.damaged-1', 'an older one');
        $this->copy($source, ['shelf/a.jpg'], repairs: true);
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg.damaged-3', 'a good copy is left as it is');
    }

    public function testAFileIsReadAndHashedWithoutWriting(): void
    {
        $source = $this->file('card/a.jpg', 'same');
        self::assertTrue(
            $this->copier()->digests($this->toCopy($source, ['shelf/a.jpg']))->content->equals(Digest::ofBytes('same')),
        );
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg');
    }

    public function testLeftoversOfOneIntakeAreSwept(): void
    {
        foreach (['.intake-1-7-1.velvet-part', '.intake-12-7-1.velvet-part', 'intake-1-note.txt', '.other'] as $name) {
            $this->file('shelf/'.$name);
        }
        PartFile::sweep($this->folder.'/shelf', 'intake-1-');
        PartFile::sweep($this->folder.'/nowhere', 'intake-1-');
        self::assertSame(
            ['.', '..', '.intake-12-7-1.velvet-part', '.other', 'intake-1-note.txt'],
            scandir($this->folder.'/shelf'),
        );
    }

    public function testAnEmptyFileIsCopiedToo(): void
    {
        $source = $this->file('card/zero.jpg', '');
        self::assertSame(
            '99aa06d3014798d86001c324468d497f',
            $this->copy($source, ['shelf/zero.jpg'])->hex,
        ); // xxHash specification: XXH128 of the empty input
        self::assertFileExists($this->folder.'/shelf/zero.jpg');
    }

    public function testNeverOverwritesAnotherFile(): void
    {
        $source = $this->file('card/a.jpg', 'new');
        $this->file('twin/a.jpg', 'precious');
        $this->fails(NameTaken::class, fn () => $this->copy($source, ['twin/a.jpg']));
        self::assertStringEqualsFile($this->folder.'/twin/a.jpg', 'precious');
        self::assertSame([], $this->parts());
    }

    public function testAFileThatIsThereAlreadyCountsAsPlaced(): void
    {
        $source = $this->file('card/a.jpg', 'same');
        $this->file('shelf/a.jpg', 'same');
        $this->copy($source, ['shelf/a.jpg', 'twin/a.jpg']);
        self::assertStringEqualsFile($this->folder.'/twin/a.jpg', 'same');
        self::assertSame([], $this->parts());
    }

    public function testALinkInThePlaceOfTheNameIsNotFollowed(): void
    {
        $source = $this->file('card/a.jpg', 'same');
        $this->file('elsewhere', 'same');
        mkdir($this->folder.'/shelf');
        symlink($this->folder.'/elsewhere', $this->folder.'/shelf/a.jpg');
        $this->fails(NameTaken::class, fn () => $this->copy($source, ['shelf/a.jpg']));
    }

    public function testWhatACrashLeftBehindIsThrownAway(): void
    {
        $source = $this->file('card/a.jpg', 'whole');
        $this->file('shelf/.t-1.velvet-part', 'ha');
        $this->copy($source, ['shelf/a.jpg']);
        self::assertStringEqualsFile($this->folder.'/shelf/a.jpg', 'whole');
        self::assertSame([], $this->parts());
    }

    public function testABitThatFlipsOnTheDriveIsFound(): void
    {
        $source = $this->file('card/a.jpg', random_bytes(50_000));
        $flipping = new class implements DriveCache {
            public function forget(string $path): void
            {
                if (str_contains($path, '/twin/')) {
                    $bytes = (string) file_get_contents($path);
                    $bytes[20_000] = \chr(\ord($bytes[20_000]) ^ 4);
                    file_put_contents($path, $bytes);
                }
            }

            public function fetch(string $path): void
            {
            }
        };
        $this->fails(VerifyMismatch::class, fn () => $this->copy($source, ['shelf/a.jpg', 'twin/a.jpg'], $flipping));
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg');
        self::assertFileDoesNotExist($this->folder.'/twin/a.jpg');
        self::assertSame([], $this->parts());
    }

    public function testASourceThatChangedIsNotFiled(): void
    {
        $source = $this->file('card/a.jpg', 'longer than planned');
        $this->fails(
            SourceChanged::class,
            fn () => $this->copier()->copy(
                new FileToCopy($source, 3, self::TIME, [$this->folder.'/shelf/a.jpg'], 't-1'),
            ),
        );
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg');
    }

    public function testAMissingSourceAndAnUnwritablePlaceAreSentences(): void
    {
        self::assertStringContainsString(
            'gone.jpg could not be read from the card',
            $this->fails(
                SourceUnreadable::class,
                fn () => $this->copier()->copy(
                    new FileToCopy($this->folder.'/gone.jpg', 1, 0, [$this->folder.'/shelf/a.jpg'], 't-1'),
                ),
            ),
        );
        $this->file('blocked');
        self::assertStringContainsString(
            'could not be made',
            $this->fails(
                DestinationUnwritable::class,
                fn () => $this->copy($this->file('card/a.jpg'), ['blocked/2026/a.jpg']),
            ),
        );
        self::assertSame([], $this->parts());
    }

    public function testAFullDriveLeavesNothingHalfWritten(): void
    {
        if (!is_writable('/dev/full')) {
            self::markTestSkipped('There is no /dev/full here.');
        }
        $source = $this->file('card/a.jpg', random_bytes(10_000));
        // a process of its own whose files may not grow beyond 4 kB stands in for a full drive
        $code = \sprintf(
            'require %s; try { (new Velvet\Core\Copy\VerifiedCopy(new Velvet\Core\Copy\PageCache()))->copy(new '
                .'Velvet\Core\Copy\FileToCopy(%s, 10000, 0, [%s], "t-1")); } catch (Velvet\Core\Copy\TransferFailure '
                .'$e) { echo $e->getMessage(); }',
            var_export(\dirname(__DIR__, 3).'/vendor/autoload.php', true),
            var_export($source, true),
            var_export($this->folder.'/shelf/a.jpg', true),
        );
        $output = (string) shell_exec(
            'bash -c '.escapeshellarg('trap "" XFSZ; ulimit -f 4; php -d display_errors=0 -r '.escapeshellarg($code)),
        );
        self::assertStringContainsString('could not be written', $output);
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg');
        self::assertSame([], $this->parts());
    }

    public function testNothingIsLeftWhereTheDriveHadBeen(): void
    {
        $source = $this->file('card/a.jpg', 'whole');
        mkdir($this->folder.'/twin');
        $target = $this->folder.'/twin/2026/shoot/a.jpg';
        // the drive was another one: this is the folder it was mounted on
        $ground = new Ground(
            $this->folder.'/twin',
            (string) realpath($this->folder.'/twin'),
            (stat($this->folder)['dev'] ?? 0) + 1,
        );
        try {
            (new VerifiedCopy(new PageCache()))->copy(
                new FileToCopy($source, 5, (int) filemtime($source), [$target], 't', grounds: [$target => $ground]),
            );
            self::fail('It must not be written there.');
        } catch (DriveGone $e) {
            self::assertStringContainsString('was taken off', $e->getMessage());
            self::assertSame(['.', '..'], scandir($this->folder.'/twin'));
        }
    }

    public function testNothingIsWrittenThroughALinkThatLeadsOutOfTheShelf(): void
    {
        $source = $this->file('card/a.jpg', 'whole');
        foreach (['shelf', 'elsewhere/2026'] as $folder) {
            mkdir($this->folder.'/'.$folder, recursive: true);
        }
        symlink($this->folder.'/elsewhere', $this->folder.'/shelf/2025');
        $ground = Ground::at($this->folder.'/shelf');
        self::assertNotNull($ground);
        foreach (['2025/shoot/a.jpg', '2025/2026/a.jpg', '2025/a.jpg'] as $path) {
            $target = $this->folder.'/shelf/'.$path;
            $this->fails(
                LeadsAway::class,
                fn () => $this->copier()->copy(
                    new FileToCopy($source, 5, (int) filemtime($source), [$target], 't', grounds: [$target => $ground]),
                ),
            );
        }
        self::assertSame(['.', '..', '2026'], scandir($this->folder.'/elsewhere'), 'not even a folder was made there');
        // the shelf itself may be reached through a link
        symlink($this->folder.'/shelf', $this->folder.'/linked');
        $linked = Ground::at($this->folder.'/linked') ?? self::fail('It is there.');
        $target = $this->folder.'/linked/2026/shoot/a.jpg';
        $this->copier()->copy(
            new FileToCopy($source, 5, (int) filemtime($source), [$target], 't', grounds: [$target => $linked]),
        );
        self::assertStringEqualsFile($this->folder.'/shelf/2026/shoot/a.jpg', 'whole');
    }

    /**
     * A card of the same label, names and sizes; a file rewritten in place, with its time set back; one that is written
     * to while it is read.
     */
    public function testOnlyTheFileThatWasPlannedIsFiled(): void
    {
        $source = $this->file('card/a.jpg', str_repeat('as it was read ', 10_000));
        touch($source, self::TIME);
        $bytes = (int) filesize($source);
        $planned = Fingerprint::of(FileBytes::open($source));
        $file = new FileToCopy($source, $bytes, self::TIME, [$this->folder.'/shelf/a.jpg'], 't', fingerprint: $planned);

        file_put_contents($source, str_repeat('another picture', 10_000));
        touch($source, self::TIME);
        self::assertStringContainsString(
            'is not the file that was planned',
            $this->fails(SourceChanged::class, fn () => $this->copier()->copy($file)),
        );
        file_put_contents($source, str_repeat('as it was read ', 10_000));
        self::assertStringContainsString(
            'is not the file that was planned',
            $this->fails(SourceChanged::class, fn () => $this->copier()->copy($file)),
            'by its time',
        );

        touch($source, self::TIME);
        $meanwhile = new class($source) extends CountingWatch {
            public function __construct(private readonly string $source)
            {
            }

            public function read(int $bytes): void
            {
                $handle = fopen($this->source, 'r+');
                \assert(false !== $handle);
                fseek($handle, 100_000);
                fwrite($handle, 'torn');
                fclose($handle);
                touch($this->source, 1_777_716_000);
            }
        };
        self::assertStringContainsString(
            'was written to while it was read',
            $this->fails(SourceChanged::class, fn () => $this->copier()->copy($file, $meanwhile)),
        );
        self::assertFileDoesNotExist($this->folder.'/shelf/a.jpg');
        self::assertSame([], $this->parts());

        file_put_contents($source, str_repeat('as it was read ', 10_000));
        touch($source, self::TIME);
        $this->copier()->copy($file);
        self::assertFileEquals($source, $this->folder.'/shelf/a.jpg');
    }

    public function testRenameWithoutReplacing(): void
    {
        $from = $this->file('from', 'a');
        $to = $this->file('to', 'b');
        self::assertFalse(ExclusiveRename::move($from, $to));
        self::assertStringEqualsFile($to, 'b');
        self::assertTrue(ExclusiveRename::move($from, $this->folder.'/free'));
    }

    /**
     * The order of the calls (POSIX): bytes are synced before the name, and the folder after it; the card is opened for
     * reading only.
     */
    public function testTheSystemCallsComeInTheRightOrder(): void
    {
        $source = $this->file('card/a.jpg', random_bytes(10_000));
        $trace = $this->folder.'/trace';
        $code = \sprintf(
            'require %s; (new Velvet\Core\Copy\VerifiedCopy(new Velvet\Core\Copy\PageCache()))->copy(new '
                .'Velvet\Core\Copy\FileToCopy(%s, 10000, 0, [%s], "t-1"));',
            var_export(\dirname(__DIR__, 3).'/vendor/autoload.php', true),
            var_export($source, true),
            var_export($this->folder.'/shelf/a.jpg', true),
        );
        exec(
            'strace -f -y -e trace=openat,write,fsync,link,linkat,rename,renameat,renameat2,unlink,unlinkat -o '
                .escapeshellarg($trace).' php -r '.escapeshellarg($code),
            $output,
            $result,
        );
        self::assertSame(0, $result);
        $calls = (string) file_get_contents($trace);
        if ('' === $calls) {
            self::markTestSkipped('strace may not trace here.');
        }
        $at = static fn (string $pattern): int => 1 === preg_match(
            $pattern,
            $calls,
            $match,
            \PREG_OFFSET_CAPTURE,
        ) ? $match[0][1] : self::fail("$pattern was not called:\n$calls");
        $write = $at('~write\(\d+<[^>]*/shelf/\.t-1~');
        $sync = $at('~fsync\(\d+<[^>]*/shelf/\.t-1~');
        $name = $at('~link\("[^"]*/shelf/\.t-1[^"]*", "[^"]*/shelf/a\.jpg"\)~');
        $folder = $at('~fsync\(\d+<[^>]*/shelf>~');
        self::assertTrue($write < $sync && $sync < $name && $name < $folder);
        foreach (explode("\n", $calls) as $call) {
            if (str_contains($call, '/card/')) {
                self::assertMatchesRegularExpression(
                    '~openat\(.*O_RDONLY~',
                    $call,
                    'a card is opened for reading and nothing else',
                );
            }
        }
    }

    /** @param non-empty-list<string> $targets */
    private function copy(
        string $source,
        array $targets,
        DriveCache $cache = new PageCache(),
        CopyWatch $watch = new Unwatched(),
        bool $repairs = false,
    ): Digest {
        return $this->copier($cache)->copy($this->toCopy($source, $targets, $repairs), $watch)->content;
    }

    /** @param non-empty-list<string> $targets */
    private function toCopy(
        string $source,
        array $targets,
        bool $repairs = false,
        ?SecondDigest $second = null,
    ): FileToCopy {
        return new FileToCopy(
            $source,
            (int) filesize($source),
            self::TIME,
            array_map(fn (string $target): string => $this->folder.'/'.$target, $targets),
            't-1',
            $second,
            $repairs,
        );
    }

    private function copier(DriveCache $cache = new PageCache()): VerifiedCopy
    {
        return new VerifiedCopy($cache, 64 * 1024);
    }

    /**
     * @param class-string<TransferFailure> $class
     *
     * @return string the sentence
     */
    private function fails(string $class, \Closure $call): string
    {
        try {
            $call();
        } catch (TransferFailure $e) {
            self::assertInstanceOf($class, $e);

            return $e->getMessage();
        }
        self::fail("$class was not thrown.");
    }

    /** @return list<string> */
    private function parts(): array
    {
        return explode(
            "\n",
            trim((string) shell_exec('find '.escapeshellarg($this->folder).' -name "*.velvet-part"')),
        ) === ['']
            ? []
            : ['some'];
    }
}
