<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Style;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Shoot\InRun;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Style\Subfolders;

final class SubfoldersTest extends TestCase
{
    #[TestWith([FileKind::Raw, FileKind::Raw, 'raw/'])]
    #[TestWith([FileKind::Dng, FileKind::Dng, 'raw/'])]
    #[TestWith([FileKind::Jpeg, FileKind::Raw, ''])]
    #[TestWith([FileKind::Movie, FileKind::Jpeg, ''])]
    #[TestWith([FileKind::Movie, FileKind::Movie, 'movies/'])]
    #[TestWith([FileKind::Sidecar, FileKind::Movie, 'movies/'])]
    #[TestWith([FileKind::Audio, FileKind::Audio, 'movies/'])]
    public function testFilesOfAMovieStayTogether(FileKind $kind, FileKind $leading, string $folder): void
    {
        self::assertSame($folder, self::style()->of($kind, $leading));
    }

    #[TestWith(['2026/2026-05-02 Quay', '2026/2026-05-02 Quay'])]
    #[TestWith(['2026/2026-05-02 Quay/raw', '2026/2026-05-02 Quay'])]
    #[TestWith(['2026/2026-05-02 Quay/raw/bracket 02', '2026/2026-05-02 Quay'])]
    #[TestWith(['2026/2026-05-02 Quay/bracket 02', '2026/2026-05-02 Quay'])]
    #[TestWith(['2026/2026-05-02 Quay/movies', '2026/2026-05-02 Quay'])]
    #[TestWith(['2026/raw material', '2026/raw material'])]
    public function testTheShootOfASubfolderIsFound(string $folder, string $shoot): void
    {
        self::assertSame($shoot, self::style()->shootOf($folder));
    }

    public function testTheFolderOfARunLiesInThatOfItsKind(): void
    {
        $run = new InRun(SequenceKind::Bracket, 2, 1);
        self::assertSame('raw/bracket 02/', self::style()->of(FileKind::Raw, FileKind::Raw, $run));
    }

    private static function style(): Subfolders
    {
        return new Subfolders('raw', null, 'movies', 'other files', [SequenceKind::Bracket->name => 'bracket'], []);
    }
}
