<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\CopyInspection;
use Velvet\Core\Filed\CopyLedger;
use Velvet\Core\Filed\CopyPlace;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\KeptCopy;
use Velvet\Core\Tests\TemporaryFolder;

/** One copy, looked at in every standing that it can have; the ledger is a list in memory. */
final class CopyInspectionTest extends TestCase implements CopyLedger
{
    use TemporaryFolder;

    private const DRIVE = 'drive-1';

    /** @var list<KeptCopy> */
    private array $kept = [];
    /** @var list<string> what the inspection set down */
    private array $setDown = [];
    private ?Drive $drive = null;
    /** How often the ledger was asked. */
    private int $asked = 0;

    /**
     * @param \Closure(self): void $do      what happened to the copy since it was verified
     * @param string|null          $setDown what the ledger is told where copies are read again
     */
    #[DataProvider('happenings')]
    public function testWhatIsFoundOfACopy(
        \Closure $do,
        CopyStanding $glance,
        CopyStanding $read,
        ?string $setDown = null,
    ): void {
        $this->verified();
        $do($this);
        self::assertSame($glance, $this->look(false));
        self::assertSame([], $this->setDown, 'a glance sets nothing down');
        self::assertSame($read, $this->look(true));
        self::assertSame(null === $setDown ? [] : [$setDown], $this->setDown);
    }

    /** @return iterable<string, array{\Closure(self): void, CopyStanding, CopyStanding, 3?: string}> */
    public static function happenings(): iterable
    {
        yield 'nothing' => [static function (): void {
        }, CopyStanding::Whole, CopyStanding::Whole];
        yield 'written to, with the same content' => [static function (self $test): void {
            file_put_contents($test->path(), 'as it was received');
            touch($test->path(), 1_000_000_000);
        }, CopyStanding::Touched, CopyStanding::Whole, 'whole'];
        yield 'changed' => [static function (self $test): void {
            file_put_contents($test->path(), 'somebody wrote this');
        }, CopyStanding::Touched, CopyStanding::Changed, 'changed'];
        yield 'cut off' => [static function (self $test): void {
            file_put_contents($test->path(), 'as it was');
        }, CopyStanding::Touched, CopyStanding::Changed, 'changed'];
        yield 'removed' => [static function (self $test): void {
            unlink($test->path());
        }, CopyStanding::Missing, CopyStanding::Missing, 'missing'];
        yield 'found changed before, and put right by hand' => [static function (self $test): void {
            $test->again(standing: CopyStanding::Changed);
        }, CopyStanding::Changed, CopyStanding::Whole, 'whole'];
        yield 'another drive in its place' => [static function (self $test): void {
            $test->drive = new Drive('drive-2', $test->folder, 'ext4', ['disk-2']);
        }, CopyStanding::Away, CopyStanding::Away];
        yield 'no drive' => [static function (self $test): void {
            $test->drive = null;
        }, CopyStanding::Away, CopyStanding::Away];
        yield 'another shelf has its root' => [static function (self $test): void {
            $test->again(isShelf: false);
        }, CopyStanding::Elsewhere, CopyStanding::Elsewhere];
        yield 'its folder leads out of the place' => [static function (self $test): void {
            rename($test->folder.'/shelf/2026', $test->folder.'/elsewhere');
            symlink($test->folder.'/elsewhere', $test->folder.'/shelf/2026');
        }, CopyStanding::Elsewhere, CopyStanding::Elsewhere];
        yield 'the others have another content by now' => [static function (self $test): void {
            $test->again(content: self::content('with its metadata'));
        }, CopyStanding::Touched, CopyStanding::Changed, 'changed'];
        yield 'metadata is being written into it' => [static function (self $test): void {
            file_put_contents($test->path(), 'with its metadata');
            $test->again(inTheMaking: self::content('with its metadata'));
        }, CopyStanding::Touched, CopyStanding::BeingWritten];
        yield 'no change times are kept, other bytes of the same size and time' => [static function (self $test): void {
            $time = (int) filemtime($test->path());
            file_put_contents($test->path(), 'as it was DECEIVED');
            touch($test->path(), $time);
            $test->drive = new Drive(self::DRIVE, $test->folder, 'vfat', ['disk-1']);
            $test->again(stamp: FileStamp::of($test->path())?->text());
        }, CopyStanding::Touched, CopyStanding::Changed, 'changed'];
    }

    /** Somebody of ours may have been at it between the asking and the looking. */
    public function testWhatTheLedgerHasNowCounts(): void
    {
        $this->verified();
        $before = $this->kept[0];
        file_put_contents($this->path(), 'with its metadata');
        $now = new KeptCopy(
            7, 3, '2026/a.jpg', $before->place, self::content('with its metadata'),
            Digest::ofBytes('with its metadata'), CopyStanding::Whole, FileStamp::of($this->path())?->text() ?? '',
            Fingerprint::ofPath($this->path()), null,
        );
        $ledger = $this->createMock(CopyLedger::class);
        $ledger->method('of')->willReturnOnConsecutiveCalls([$before], [$now]);
        $ledger->expects(self::never())->method('damaged');
        $seen = (new CopyInspection($ledger, $this->drives(), $this->cache()))->look([7], true);
        self::assertSame(CopyStanding::Whole, $seen[7][0]->standing);
    }

    /** A shelf that is gone: the ledger is asked once more for all of its files. */
    public function testTheLedgerIsAskedOnceMoreForAllThatAreMissing(): void
    {
        $this->verified();
        [$copy] = $this->kept;
        $this->kept = array_map(static fn (int $file): KeptCopy => new KeptCopy(
            $file, 3, "2026/$file.jpg", $copy->place, $copy->content, $copy->verified, $copy->standing, $copy->stamp,
            $copy->fingerprint, null,
        ), range(1, 50));
        $seen = (new CopyInspection($this, $this->drives(), $this->cache()))->look(range(1, 50), false);
        self::assertSame(
            array_fill(1, 50, [CopyStanding::Missing]),
            array_map(static fn (array $copies): array => array_column($copies, 'standing'), $seen),
        );
        self::assertSame(2, $this->asked);
    }

    public function of(array $files): array
    {
        ++$this->asked;

        return array_values(array_filter(
            $this->kept,
            static fn (KeptCopy $copy): bool => \in_array($copy->file, $files, true),
        ));
    }

    public function whole(KeptCopy $copy): void
    {
        $this->setDown[] = 'whole';
    }

    public function damaged(KeptCopy $copy, CopyStanding $standing): void
    {
        $this->setDown[] = $standing->value;
    }

    private function look(bool $readAgain): CopyStanding
    {
        return (new CopyInspection($this, $this->drives(), $this->cache()))->look([7], $readAgain)[7][0]->standing;
    }

    private function verified(): void
    {
        $this->drive = new Drive(self::DRIVE, $this->folder, 'ext4', ['disk-1']);
        $this->file('shelf/2026/a.jpg', 'as it was received');
        $this->again();
    }

    private function path(): string
    {
        return $this->folder.'/shelf/2026/a.jpg';
    }

    private function again(
        ?Content $content = null,
        CopyStanding $standing = CopyStanding::Whole,
        bool $isShelf = true,
        ?Content $inTheMaking = null,
        ?string $stamp = null,
    ): void {
        $root = $this->folder.'/shelf';
        $known = [] === $this->kept
            ? Drives::at($this->drives(), [$root])->toArray()
            : $this->kept[0]->place->drives;
        $this->kept = [new KeptCopy(
            7,
            3,
            '2026/a.jpg',
            new CopyPlace(1, $root, self::DRIVE, $isShelf, $known),
            $content ?? self::content('as it was received'),
            Digest::ofBytes('as it was received'),
            $standing,
            $stamp ?? $this->kept[0]->stamp ?? FileStamp::of($this->path())?->text() ?? '',
            $this->kept[0]->fingerprint ?? Fingerprint::ofPath($this->path()),
            $inTheMaking,
        )];
    }

    private static function content(string $bytes): Content
    {
        return new Content(Digest::ofBytes($bytes), \strlen($bytes));
    }

    private function drives(): DriveTable
    {
        return new class(fn (): ?Drive => $this->drive) implements DriveTable {
            /** @param \Closure(): (Drive|null) $drive */
            public function __construct(private readonly \Closure $drive)
            {
            }

            public function holding(string $path): ?Drive
            {
                return ($this->drive)();
            }
        };
    }

    private function cache(): DriveCache
    {
        return new class implements DriveCache {
            public function forget(string $path): void
            {
            }

            public function fetch(string $path): void
            {
            }
        };
    }
}
