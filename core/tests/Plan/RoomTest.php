<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Plan;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\Room;
use Velvet\Core\Tests\TemporaryFolder;

final class RoomTest extends TestCase
{
    use TemporaryFolder;

    public function testRoomIsTheDrivesOwnFigure(): void
    {
        $room = Room::on($this->folder, 1);
        self::assertEqualsWithDelta(disk_free_space($this->folder), $room->free, 1e9);
        self::assertSame(0, $room->missing());
    }

    public function testWhatIsMissingIsCountedWithAReserve(): void
    {
        $free = (int) disk_free_space($this->folder);
        self::assertGreaterThan(900_000_000, Room::on($this->folder, $free + 1_000_000_000)->missing());
        self::assertSame(0, Room::on($this->folder, 0)->missing(), 'nothing to write needs no room');
    }

    public function testADriveThatIsNotThereHasNoFigure(): void
    {
        self::assertNull(Room::on($this->folder.'/gone', 5)->free);
    }

    public function testANameIsTakenIfShelfOrTwinHasIt(): void
    {
        $this->file('shelf/2026/a.jpg');
        $this->file('twin/2026/b.jpg');
        $this->file('twin/2026/.hidden.velvet-part');
        $folders = new FoldersOnDisk([$this->folder.'/shelf', $this->folder.'/twin', $this->folder.'/gone']);
        self::assertEqualsCanonicalizing(['a.jpg', 'b.jpg'], $folders->namesIn('2026'));
        self::assertSame([], $folders->namesIn('2027'));
    }
}
