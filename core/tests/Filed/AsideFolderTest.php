<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Filed\AsideFolder;
use Velvet\Core\Shoot\Day;

final class AsideFolderTest extends TestCase
{
    public function testAFileLiesBesideItsShootInTheFoldersThatItHadThere(): void
    {
        foreach ([
            ['2026-05-02 Regatta', '2026-05-02 Regatta/a.jpg', '2026-05-02 Regatta, set aside/a.jpg'],
            ['2026/R', '2026/R/Originals/raw/a.cr2', '2026/R, set aside/Originals/raw/a.cr2'],
            ['2026/R', '2026/Elsewhere/a.cr2', '2026/R, set aside/a.cr2'],
        ] as [$folder, $path, $aside]) {
            self::assertSame($aside, AsideFolder::path($folder, $path));
        }
        self::assertSame(
            'Trash 2026-12-01/2026/R, set aside/a.cr2',
            AsideFolder::inTrash(Day::fromText('2026-12-01'), '2026/R, set aside/a.cr2'),
        );
    }

    public function testTheFoldersNameIsNeverLongerThanAFileSystemTakes(): void
    {
        // 255 bytes: NAME_MAX of Linux
        $name = basename(AsideFolder::of('2026/'.str_repeat('ж', 127)));
        self::assertLessThanOrEqual(255, \strlen($name));
        self::assertTrue(mb_check_encoding($name, 'UTF-8'));
        self::assertStringEndsWith('ж, set aside', $name);
    }

    public function testAnotherNameKeepsItsEnding(): void
    {
        self::assertSame('a.b/c.d 2.jpg', AsideFolder::other('a.b/c.d.jpg', 2));
        self::assertSame('a.b/c 3', AsideFolder::other('a.b/c', 3));
        self::assertSame('a/.hidden 2', AsideFolder::other('a/.hidden', 2));
    }

    public function testASidecarFollowsTheNameOfItsFile(): void
    {
        self::assertSame('y/b.xmp', AsideFolder::sidecar('x/a.xmp', 'x/a.cr2', 'y/b.cr2'));
        self::assertSame('y/b.cr2.xmp', AsideFolder::sidecar('x/a.cr2.xmp', 'x/a.cr2', 'y/b.cr2'));
        self::assertSame('y/odd.xmp', AsideFolder::sidecar('x/odd.xmp', 'x/a.cr2', 'y/b.cr2'));
    }
}
