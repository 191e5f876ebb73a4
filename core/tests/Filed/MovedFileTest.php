<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\NotNow;
use Velvet\Core\Filed\Received;
use Velvet\Core\Filed\Whereabouts;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/** A filed file that leaves its shoot, comes back, or is deleted. */
final class MovedFileTest extends TestCase
{
    private const HOME = '2026/Regatta/a.jpg';
    /** Where a file can go from where it is; nowhere else. */
    private const ALLOWED = [
        'in_shoot' => ['set_aside'],
        'set_aside' => ['in_shoot', 'in_trash', 'forgotten'],
        'in_trash' => ['in_shoot', 'deleted'],
        'deleted' => [],
        'forgotten' => [],
        'on its way' => [],
        'changed outside' => [],
        'to be converted' => [],
    ];

    #[DataProvider('all')]
    public function testItGoesOnlyWhereItMay(string $state, Whereabouts $to): void
    {
        $file = self::in($state);
        $may = \in_array($to->value, self::ALLOWED[$state], true);
        self::assertSame($may, $file->mayMove($to));
        $path = self::path($to);
        if (!$may) {
            $this->expectException(NotNow::class);
            $file->moveAsked($to, $path);
        }
        $file->moveAsked($to, $path);
        self::assertSame([$to, $path], [$file->heading(), $file->movesTo()]);
        $from = $file->path();
        $file->moved();
        self::assertSame([$to, null, $path ?? $from], [$file->whereabouts(), $file->heading(), $file->path()]);
        self::assertSame(self::HOME, $file->homePath());
    }

    /** @return iterable<string, array{string, Whereabouts}> */
    public static function all(): iterable
    {
        foreach (array_keys(self::ALLOWED) as $state) {
            foreach (Whereabouts::cases() as $to) {
                yield $state.' to '.$to->value => [$state, $to];
            }
        }
    }

    public function testItsSidecarIsKnownWhereItGoes(): void
    {
        $file = self::in('in_shoot');
        $file->metadataAsked();
        $file->sayBeside('Nothing can be written into it.');
        $file->writingBegan($file->wanted(), self::content('a sidecar'));
        $file->sidecarWritten(self::HOME.'.xmp', 40, '');
        $file->moveAsked(Whereabouts::SetAside, 'aside/a 2.jpg');
        $file->moved();
        self::assertSame('aside/a 2.jpg.xmp', $file->sidecarPath());
    }

    public function testWhatIsBeingWrittenIsNotMovedBeforeThatIsOver(): void
    {
        $file = self::in('in_shoot');
        $file->metadataAsked();
        $file->writingBegan($file->wanted(), self::content('written'));
        $file->moveAsked(Whereabouts::SetAside, 'aside/a.jpg');
        try {
            $file->moved();
            self::fail('It was moved.');
        } catch (NotNow) {
            $file->written(40, '');
            $file->moved();
        }
        self::assertSame('aside/a.jpg', $file->path());
    }

    public function testWhyItIsNotThereYetIsKnownUntilItIs(): void
    {
        $file = self::in('in_shoot');
        $file->moveAsked(Whereabouts::SetAside, 'aside/a.jpg');
        $file->moveStuck('Its drive went away.');
        self::assertSame('Its drive went away.', $file->moveNote());
        $file->moved();
        self::assertNull($file->moveNote());
        $this->expectException(NotNow::class);
        $file->moveStuck('Its drive went away.');
    }

    public function testOnlyWhatLiesInItsShootIsConverted(): void
    {
        $file = self::file(FileKind::Raw);
        self::assertTrue($file->mayBecomeDng());
        $file->moveAsked(Whereabouts::SetAside, 'aside/a.jpg');
        self::assertFalse($file->mayBecomeDng());
        $file->moved();
        self::assertFalse($file->mayBecomeDng());
    }

    private static function path(Whereabouts $to): ?string
    {
        return match ($to) {
            Whereabouts::InShoot => self::HOME,
            Whereabouts::SetAside => 'aside/a.jpg',
            Whereabouts::InTrash => 'trash/a.jpg',
            Whereabouts::Deleted, Whereabouts::Forgotten => null,
        };
    }

    private static function in(string $state): FiledFile
    {
        $file = self::file('to be converted' === $state ? FileKind::Raw : FileKind::Jpeg);
        $way = match ($state) {
            'set_aside' => [Whereabouts::SetAside],
            'in_trash' => [Whereabouts::SetAside, Whereabouts::InTrash],
            'deleted' => [Whereabouts::SetAside, Whereabouts::InTrash, Whereabouts::Deleted],
            'forgotten' => [Whereabouts::SetAside, Whereabouts::Forgotten],
            default => [],
        };
        foreach ($way as $to) {
            $file->moveAsked($to, self::path($to));
            $file->moved();
        }
        match ($state) {
            'on its way' => $file->moveAsked(Whereabouts::SetAside, 'aside/a.jpg'),
            'changed outside' => $file->changedOutside(FiledFileTest::change()),
            'to be converted' => $file->dngAsked(DngChoice::Embed),
            default => null,
        };

        return $file;
    }

    private static function file(FileKind $kind): FiledFile
    {
        return FiledFile::filed(
            new FiledAs(2, 3, 4, self::HOME),
            new Received('DCIM/A.JPG', $kind, self::content('received'), str_repeat('1', 32), 10),
            new PlannedWords([], []),
            DngChoice::No,
            new \DateTimeImmutable('2026-12-01T07:00:00Z'),
        );
    }

    private static function content(string $bytes): Content
    {
        return new Content(Digest::ofBytes($bytes), \strlen($bytes));
    }
}
