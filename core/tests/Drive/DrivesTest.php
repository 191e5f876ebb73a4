<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Drive;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Drive\KnownDrive;
use Velvet\Core\Drive\MountedDrives;
use Velvet\Core\Drive\MountTable;
use Velvet\Core\Drive\SimulatedDrives;
use Velvet\Core\Tests\TemporaryFolder;

final class DrivesTest extends TestCase
{
    use TemporaryFolder;

    /** Lines as `proc(5)` describes them. */
    private const TABLE = <<<'MOUNTINFO'
        27 1 254:0 / / rw,relatime shared:1 - ext4 /dev/vda rw
        30 27 8:17 / /media/ines/RED\040CARD rw,nosuid - exfat /dev/sdb1 rw
        31 27 0:40 / /mnt/studio rw - btrfs /dev/mapper/studio rw
        32 27 0:41 /sub /mnt/studio/sub rw - btrfs /dev/mapper/studio rw
        33 27 0:42 / /mnt/nas rw - nfs4 nas:/pictures rw
        34 27 0:43 / /mnt/over rw - tmpfs tmpfs rw
        35 27 8:33 / /mnt/over rw master:2 propagate_from:1 - ext4 /dev/sdc1 rw
        not a line of it
        MOUNTINFO;

    public function testTheInnermostMountHoldsAFolder(): void
    {
        $table = MountTable::of(self::TABLE);
        self::assertSame('/dev/vda', $table->holding('/mnt')?->source);
        self::assertSame(
            ['/media/ines/RED CARD', 'exfat', '8:17'],
            [
                $table->holding('/media/ines/RED CARD/DCIM')?->point,
                $table->holding('/media/ines/RED CARD')?->type,
                $table->holding('/media/ines/RED CARD')?->device,
            ],
        );
        self::assertSame('/', $table->holding('/media/ines/RED CARDS')?->point, 'a name that only begins alike');
        self::assertSame(32, $table->holding('/mnt/studio/sub/2026')?->id);
        self::assertSame('/dev/sdc1', $table->holding('/mnt/over/x')?->source, 'what is mounted last hides the others');
        self::assertNull($table->at('/mnt/studio/2026'));
        self::assertSame(31, $table->at('/mnt/studio')?->id);
        self::assertNull(MountTable::of('')->holding('/'));
    }

    /** `stat` and `findmnt` from coreutils and util-linux, written by others. */
    public function testItIsTheMountThatOtherProgramsTell(): void
    {
        foreach ([$this->folder, '/proc/self/net', '/dev/shm', '/'] as $folder) {
            $real = (string) realpath($folder);
            self::assertSame(
                trim((string) shell_exec('stat -c %m '.escapeshellarg($real))),
                MountTable::now()->holding($real)?->point,
                $folder,
            );
            self::assertSame(
                trim((string) shell_exec('findmnt -n -o FSTYPE -T '.escapeshellarg($real).' | tail -n 1')),
                (new MountedDrives())->holding($folder)?->type,
                $folder,
            );
        }
        self::assertNull((new MountedDrives())->holding($this->folder.'/gone'));
    }

    public function testFoldersOfOneFileSystemAreOneDriveAndOthersAreNot(): void
    {
        $drives = new MountedDrives();
        mkdir($this->folder.'/twin');
        [$here, $twin, $memory] = [
            $drives->holding($this->folder),
            $drives->holding($this->folder.'/twin'),
            $drives->holding('/dev/shm'),
        ];
        self::assertNotNull($here);
        self::assertNotNull($twin);
        self::assertNotNull($memory);
        self::assertSame($here->id, $twin->id);
        self::assertFalse($here->isApartFrom($twin));
        self::assertTrue($here->isApartFrom($memory));
        self::assertSame(
            $here->id,
            (new MountedDrives())->holding($this->folder)?->id,
            'the same every time it is asked',
        );
    }

    public function testPartitionsOfOneDiskAreNotApart(): void
    {
        $first = new Drive('uuid:1', '/mnt/a', 'ext4', ['disk:sda']);
        self::assertFalse($first->isApartFrom(new Drive('uuid:2', '/mnt/b', 'ext4', ['disk:sda'])));
        self::assertFalse(
            $first->isApartFrom(new Drive('uuid:3', '/mnt/c', 'ext4', ['disk:sdb', 'disk:sda'])),
            'one that is laid over both',
        );
        self::assertTrue($first->isApartFrom(new Drive('uuid:4', '/mnt/d', 'exfat', ['disk:sdb'])));
        self::assertTrue($first->keepsChangeTimes());
        self::assertFalse((new Drive('uuid:4', '/mnt/d', 'exfat', ['disk:sdb']))->keepsChangeTimes());
    }

    public function testSimulatedDrivesAreFoldersOfTheirRootAndNothingElse(): void
    {
        foreach (['drives/Studio/2026', 'drives/Twin', 'other'] as $folder) {
            mkdir($this->folder.'/'.$folder, recursive: true);
        }
        $real = new MountedDrives();
        $drives = new SimulatedDrives($real, [$this->folder.'/drives', $this->folder.'/gone']);
        [$studio, $twin] = [
            $drives->holding($this->folder.'/drives/Studio/2026'),
            $drives->holding($this->folder.'/drives/Twin'),
        ];
        self::assertNotNull($studio);
        self::assertNotNull($twin);
        self::assertTrue($studio->isApartFrom($twin));
        self::assertSame($studio->id, $drives->holding($this->folder.'/drives/Studio')?->id);
        self::assertEquals($real->holding($this->folder.'/other'), $drives->holding($this->folder.'/other'));
        self::assertEquals($real->holding($this->folder), $drives->holding($this->folder.'/drives'));
        self::assertEquals($real->holding('/dev/shm'), $drives->holding('/dev/shm'));
        self::assertNull($drives->holding($this->folder.'/drives/Third'));
    }

    /** After a restart devices are numbered anew; what is on them, and so their identity, is not. */
    public function testADriveIsKnownByItselfAndNotByItsNumber(): void
    {
        mkdir($this->folder.'/twin');
        $table = self::table(['twin' => 'uuid:1']);
        $drives = Drives::at($table, [$this->folder.'/twin', $this->folder.'/gone']);
        self::assertSame(
            [$this->folder.'/twin'],
            array_keys($drives->known),
            'a root that was away from the start is no drive of it',
        );
        $again = Drives::fromRecord(self::table(['twin' => 'uuid:1']), $drives->toArray());
        self::assertNull($again->missing());
        self::assertSame(
            [$this->folder.'/twin/a.jpg'],
            array_keys($again->grounds([$this->folder.'/twin' => $this->folder.'/twin/a.jpg'])),
        );
        $other = Drives::fromRecord(self::table(['twin' => 'uuid:2']), $drives->toArray());
        self::assertSame($this->folder.'/twin', $other->missing(), 'the folder is there, on another drive');
        try {
            $other->grounds([$this->folder.'/twin' => $this->folder.'/twin/a.jpg']);
            self::fail('Nothing may be written there.');
        } catch (DriveGone $e) {
            self::assertStringContainsString('twin/a.jpg', $e->getMessage());
        }
        rmdir($this->folder.'/twin');
        self::assertSame($this->folder.'/twin', $again->missing());
        self::assertFalse($again->lacks($this->folder.'/twin'), 'its drive is not there either');
        self::assertTrue(
            Drives::fromRecord(
                new MountedDrives(),
                Drives::at(new MountedDrives(), [$this->folder])->toArray(),
            )->has($this->folder),
        );
    }

    public function testAFolderThatWasDeletedFromItsDriveIsMissingAndNotAway(): void
    {
        mkdir($this->folder.'/twin/deep', recursive: true);
        $drives = Drives::at(new MountedDrives(), [$this->folder.'/twin/deep']);
        self::assertFalse($drives->lacks($this->folder.'/twin/deep'));
        exec('rm -r '.escapeshellarg($this->folder.'/twin'));
        self::assertTrue($drives->lacks($this->folder.'/twin/deep'));
        self::assertFalse($drives->has($this->folder.'/twin/deep'));
    }

    public function testWhatOldRecordsKnowIsWhereADriveWasMounted(): void
    {
        $known = KnownDrive::fromRecord(['id' => '', 'point' => '/dev/shm']);
        self::assertTrue($known?->holds('/dev/shm', new MountedDrives()));
        self::assertFalse(
            $known->holds($this->folder, new MountedDrives()),
            'once a drive was mounted here; now it is a folder like others',
        );
        self::assertTrue(
            (new KnownDrive('', '/'))->holds($this->folder, new MountedDrives()),
            'it never was on a drive of its own',
        );
        self::assertNull(KnownDrive::fromRecord(2049));
        self::assertNull(KnownDrive::fromRecord(['id' => 'uuid:1']));
    }

    public function testAStampTellsOfEveryWriting(): void
    {
        $path = $this->file('a.jpg', 'abcd');
        $stamp = FileStamp::of($path) ?? self::fail('It is there.');
        // `stat` from coreutils
        self::assertSame(trim((string) shell_exec('stat -c "%s %.9Y %.9Z" '.escapeshellarg($path))), $stamp->text());
        self::assertTrue(FileStamp::of($path)->equals($stamp->text()));
        file_put_contents($path, 'abce');
        touch($path, (int) $stamp->modifiedAt);
        self::assertFalse(FileStamp::of($path)->equals($stamp->text()), 'of one size, and its time set back');
        self::assertTrue(
            $stamp->equals(preg_replace('/\.\d+/', '', $stamp->text()) ?? ''),
            'where nanoseconds were not known',
        );
        self::assertFalse($stamp->equals(''));
        self::assertNull(FileStamp::of($this->folder));
        self::assertNull(FileStamp::of($this->folder.'/gone'));
        symlink($path, $this->folder.'/link');
        self::assertNull(FileStamp::of($this->folder.'/link'));
        link($path, $this->folder.'/hard');
        self::assertSame($stamp->inode, FileStamp::of($this->folder.'/hard')?->inode);
    }

    /** @param array<string, string> $ids of drives by the names of folders */
    private static function table(array $ids): DriveTable
    {
        return new class($ids) implements DriveTable {
            /** @param array<string, string> $ids */
            public function __construct(private readonly array $ids)
            {
            }

            public function holding(string $path): ?Drive
            {
                $id = $this->ids[basename($path)] ?? null;

                return null === $id || !is_dir($path) ? null : new Drive($id, $path, 'ext4', [$id]);
            }
        };
    }
}
