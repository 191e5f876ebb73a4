<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Card;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\FileKind;

final class FileKindTest extends TestCase
{
    #[DataProvider('names')]
    public function testTheKindOfAName(string $name, FileKind $kind): void
    {
        self::assertSame($kind, FileKind::ofName($name));
    }

    /** @return iterable<array{string, FileKind}> */
    public static function names(): iterable
    {
        foreach (['CR2', 'CR3', 'NEF', 'ARW', 'RAF', 'ORF', 'RW2', 'PEF', '3FR', 'IIQ', 'TRW'] as $raw) {
            yield ['T0001.'.$raw, FileKind::Raw];
        }
        yield ['T0001.JPG', FileKind::Jpeg];
        yield ['T0001.jpeg', FileKind::Jpeg];
        yield ['T0001.HIF', FileKind::Heif];
        yield ['T0001.heic', FileKind::Heif];
        yield ['T0001.tif', FileKind::Tiff];
        yield ['T0001.png', FileKind::Png];
        yield ['T0001.DNG', FileKind::Dng];
        yield ['T0001.MOV', FileKind::Movie];
        yield ['T0001.WAV', FileKind::Audio];
        yield ['T0001.xmp', FileKind::Sidecar];
        yield ['T0001.THM', FileKind::Sidecar];
        yield ['T0001.txt', FileKind::Other];
        yield ['T0001', FileKind::Other];
        yield ['.jpg', FileKind::Other];
        yield ['a.b.jpg', FileKind::Jpeg];
    }

    public function testOnlyPicturesMakeFramesAndTheRawLeads(): void
    {
        $stills = array_filter(FileKind::cases(), static fn (FileKind $kind): bool => $kind->isStill());
        self::assertSame(
            [FileKind::Raw, FileKind::Jpeg, FileKind::Heif, FileKind::Tiff, FileKind::Png, FileKind::Dng],
            array_values($stills),
        );
        usort($stills, static fn (FileKind $a, FileKind $b): int => $a->rank() <=> $b->rank());
        self::assertSame(FileKind::Raw, $stills[0]);
        foreach (FileKind::cases() as $kind) {
            self::assertFalse($kind->isStill() && $kind->isMovieOrSound());
        }
    }
}
