<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Copy\DestinationUnwritable;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\FileMove;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Copy\LeadsAway;
use Velvet\Core\Copy\NameTaken;

final class FileMoveTest extends TestCase
{
    private string $root;
    private Ground $ground;

    protected function setUp(): void
    {
        $this->root = sys_get_temp_dir().'/velvet-move-'.bin2hex(random_bytes(6));
        mkdir($this->root.'/shoot', 0o777, true);
        file_put_contents($this->root.'/shoot/a.jpg', 'a picture');
        $this->ground = Ground::at($this->root) ?? self::fail('No ground.');
    }

    protected function tearDown(): void
    {
        exec('rm -rf '.escapeshellarg($this->root));
    }

    public function testAFileIsMovedIntoAFolderThatIsMadeForIt(): void
    {
        self::assertTrue($this->move('shoot/a.jpg', 'aside/raw/a.jpg'));
        self::assertSame('a picture', file_get_contents($this->root.'/aside/raw/a.jpg'));
        self::assertFileDoesNotExist($this->root.'/shoot/a.jpg');
    }

    public function testDoneAgainItChangesNothing(): void
    {
        $this->move('shoot/a.jpg', 'aside/a.jpg');
        self::assertTrue($this->move('shoot/a.jpg', 'aside/a.jpg'));
        self::assertFalse($this->move('shoot/b.jpg', 'aside/b.jpg'), 'there never was one');
    }

    public function testAnotherFileIsNeverReplaced(): void
    {
        mkdir($this->root.'/aside');
        file_put_contents($this->root.'/aside/a.jpg', 'somebody\'s own');
        try {
            $this->move('shoot/a.jpg', 'aside/a.jpg');
            self::fail('It was moved.');
        } catch (NameTaken) {
            self::assertSame('somebody\'s own', file_get_contents($this->root.'/aside/a.jpg'));
            self::assertSame('a picture', file_get_contents($this->root.'/shoot/a.jpg'));
        }
        symlink('nowhere', $this->root.'/aside/b.jpg');
        $this->expectException(NameTaken::class);
        $this->move('shoot/a.jpg', 'aside/b.jpg');
    }

    public function testWhatStoodUnderBothNamesWhenItWasCutOffStandsUnderTheNewOne(): void
    {
        mkdir($this->root.'/aside');
        link($this->root.'/shoot/a.jpg', $this->root.'/aside/a.jpg');
        self::assertTrue($this->move('shoot/a.jpg', 'aside/a.jpg'));
        self::assertFileDoesNotExist($this->root.'/shoot/a.jpg');
        self::assertSame('a picture', file_get_contents($this->root.'/aside/a.jpg'));
    }

    public function testNothingIsMovedOutOfTheShelfOrWhereItsDriveIsGone(): void
    {
        mkdir($this->root.'-other');
        symlink($this->root.'-other', $this->root.'/aside');
        try {
            $this->move('shoot/a.jpg', 'aside/a.jpg');
            self::fail('It was moved.');
        } catch (LeadsAway) {
            self::assertFileExists($this->root.'/shoot/a.jpg');
        } finally {
            rmdir($this->root.'-other');
        }
        rename($this->root, $this->root.'-away');
        try {
            $this->move('shoot/a.jpg', 'trash/a.jpg');
            self::fail('It was moved.');
        } catch (DriveGone) {
            self::assertDirectoryDoesNotExist($this->root);
        } finally {
            rename($this->root.'-away', $this->root);
        }
    }

    public function testAFolderThatCannotBeMadeIsSaid(): void
    {
        file_put_contents($this->root.'/aside', 'a file of this name');
        $this->expectException(DestinationUnwritable::class);
        $this->move('shoot/a.jpg', 'aside/a.jpg');
    }

    public function testFoldersThatAreEmptyThenGoAndOthersStay(): void
    {
        mkdir($this->root.'/aside/raw/deep', 0o777, true);
        file_put_contents($this->root.'/aside/note.txt', 'somebody\'s own');
        FileMove::tidy($this->root.'/aside/raw/deep', $this->root);
        self::assertSame(['.', '..', 'note.txt'], scandir($this->root.'/aside'));
        unlink($this->root.'/aside/note.txt');
        FileMove::tidy($this->root.'/aside', $this->root);
        self::assertDirectoryDoesNotExist($this->root.'/aside');
        self::assertDirectoryExists($this->root);
    }

    private function move(string $from, string $to): bool
    {
        return FileMove::on($this->root.'/'.$from, $this->root.'/'.$to, $this->ground);
    }
}
