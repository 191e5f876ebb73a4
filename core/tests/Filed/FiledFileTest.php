<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\DngState;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MadeDng;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Filed\NotNow;
use Velvet\Core\Filed\OutsideChange;
use Velvet\Core\Filed\Received;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/**
 * Every transition of a filed file in every state that it can be in: each is allowed or refused, and a refused one
 * changes nothing.
 */
final class FiledFileTest extends TestCase
{
    /** What a file is after each transition that is allowed in a state; all others are refused there. */
    private const ALLOWED = [
        'nothing said' => [
            'metadata asked' => 'waiting', 'own taken' => 'none', 'changed outside' => 'none, changed outside',
            'outside taken' => 'none', 'agreed' => 'written', 'repaired' => 'none',
        ],
        'asked' => [
            'metadata asked' => 'waiting', 'own taken' => 'waiting', 'changed outside' => 'waiting, changed outside',
            'outside taken' => 'waiting', 'agreed' => 'written', 'repaired' => 'waiting',
            'writing began' => 'waiting, begun', 'writing refused' => 'refused', 'said beside' => 'waiting',
        ],
        'being written' => [
            'metadata asked' => 'waiting, begun', 'own taken' => 'waiting, begun', 'repaired' => 'waiting',
            'writing undone' => 'waiting', 'writing stuck' => 'waiting, begun', 'written' => 'written',
            'sidecar written' => 'written',
        ],
        'written' => [
            'metadata asked' => 'waiting', 'own taken' => 'written', 'changed outside' => 'written, changed outside',
            'outside taken' => 'written', 'agreed' => 'written', 'repaired' => 'waiting',
            'repaired in part' => 'waiting, begun',
        ],
        'refused' => [
            'metadata asked' => 'waiting', 'own taken' => 'refused', 'changed outside' => 'refused, changed outside',
            'outside taken' => 'refused', 'agreed' => 'written', 'repaired' => 'refused',
        ],
        'changed outside' => [
            'metadata asked' => 'waiting, changed outside', 'own taken' => 'written, changed outside',
            'changed outside' => 'written, changed outside', 'outside taken' => 'written',
            'agreed' => 'written, changed outside', 'repaired' => 'waiting, changed outside',
            'repaired in part' => 'waiting, begun, changed outside', 'put back' => 'written',
        ],
        'raw' => ['dng asked' => 'raw: waiting'],
        'to be converted' => ['became dng' => 'dng: leaving', 'dng refused' => 'raw: refused'],
        'to be converted beside' => ['made beside' => 'raw: made', 'dng refused' => 'raw: refused'],
        'not converted' => ['dng asked' => 'raw: waiting'],
        'beside its dng' => ['dng asked' => 'raw: waiting'],
        'raw leaving' => [
            'raw left' => 'dng: made', 'dng refused' => 'dng: refused', 'raw received again' => 'raw: waiting',
        ],
        'dng' => ['raw asked back' => 'dng: returning', 'raw received again' => 'raw: waiting'],
        'raw returning' => [
            'raw taken out' => 'raw: made', 'dng refused' => 'dng: refused', 'raw received again' => 'raw: waiting',
        ],
        'raw not taken out' => ['raw asked back' => 'dng: returning', 'raw received again' => 'raw: waiting'],
    ];
    private const OF_METADATA = [
        'metadata asked', 'own taken', 'changed outside', 'agreed', 'repaired', 'writing began', 'writing undone',
        'writing stuck', 'written', 'sidecar written', 'writing refused', 'repaired in part', 'put back',
        'outside taken', 'said beside',
    ];
    private const OF_DNG = [
        'dng asked', 'became dng', 'made beside', 'dng refused', 'raw left', 'raw asked back', 'raw taken out',
        'raw received again',
    ];

    #[DataProvider('all')]
    public function testWhatIsAllowedHappensAndWhatIsNotIsRefused(string $state, string $transition): void
    {
        $file = self::in($state);
        $then = self::ALLOWED[$state][$transition] ?? null;
        $before = clone $file;
        try {
            self::do($file, $transition);
        } catch (NotNow $e) {
            self::assertNull($then, $e->getMessage());
            self::assertStringStartsWith($before->path().' cannot be ', $e->getMessage());
            self::assertEquals($before, $file);

            return;
        }
        self::assertNotNull($then, 'It was allowed.');
        self::assertSame($then, self::summary($file, \in_array($transition, self::OF_DNG, true)));
    }

    /** @return iterable<string, array{string, string}> */
    public static function all(): iterable
    {
        foreach (self::ALLOWED as $state => $allowed) {
            $ofDng = [] !== array_intersect(array_keys($allowed), self::OF_DNG);
            foreach ($ofDng ? self::OF_DNG : self::OF_METADATA as $transition) {
                yield $state.': '.$transition => [$state, $transition];
            }
        }
    }

    public function testWhatIsAskedForWhileAnotherThingIsWrittenIsStillToBeDone(): void
    {
        $file = self::in('being written');
        $file->metadataAsked();
        $file->written(50, 'The caption was cut.');
        self::assertSame(MetadataState::Waiting, $file->metadataState());
        self::assertTrue($file->isToBeWritten());
        self::assertSame('The caption was cut.', $file->metadataNote());
    }

    public function testWhyASidecarHoldsWhatCouldStandInTheFileIsKnownUntilItSaysSomethingElse(): void
    {
        $file = self::in('asked');
        $file->sayBeside('Its packet is broken.');
        $file->writingBegan($file->wanted(), self::content('a sidecar'));
        $file->sidecarWritten('2026/a.jpg.xmp', 40, '');
        self::assertSame(
            [true, MetadataState::Written, 'Its packet is broken.', '2026/a.jpg.xmp'],
            [$file->isSaidBeside(), $file->metadataState(), $file->metadataNote(), $file->sidecarPath()],
        );
        $file->metadataAsked();
        $this->expectException(NotNow::class);
        $file->sayBeside('Its packet is broken.');
    }

    public function testWhatIsWrittenIsWhatWasSetDownBefore(): void
    {
        $file = self::in('being written');
        self::assertEquals(self::content('written'), $file->writing());
        $file->written(50, '');
        self::assertEquals(self::content('written'), $file->content());
        self::assertEquals(self::content('received'), $file->received());
        self::assertSame(50, $file->modifiedAt());
        self::assertNull($file->metadataNote());

        $file = self::in('being written');
        $file->sidecarWritten('2026/a.xmp', 50, '');
        self::assertEquals(self::content('received'), $file->content());
        self::assertEquals(self::content('written')->digest, $file->sidecar()?->digest);
        self::assertSame(['2026/a.xmp', 50], [$file->sidecarPath(), $file->sidecarModifiedAt()]);
    }

    public function testAFileThatIsRepairedInPartGetsWhatTheOtherCopyHas(): void
    {
        $file = self::in('written');
        $now = $file->content();
        $file->repairedInPart(self::at());
        self::assertEquals($now, $file->writing());
        self::assertEquals($file->received(), $file->content());
        $file->written(60, '');
        self::assertSame(MetadataState::Written, $file->metadataState());
    }

    public function testADngIsNeverWhatWasReceived(): void
    {
        $this->expectException(NotNow::class);
        self::in('dng')->repaired(40, self::at());
    }

    public function testAnotherPictureClearsNoCard(): void
    {
        $file = self::in('changed outside');
        self::assertFalse($file->isPictureReplaced());
        $file->outsideTaken(self::change(true), false);
        self::assertTrue($file->isPictureReplaced());
        self::assertEquals(self::content('theirs'), $file->content());

        $file = self::in('changed outside');
        $file->outsideTaken(self::change(true), true);
        self::assertFalse($file->isPictureReplaced(), 'A sidecar has no picture.');
        self::assertSame('2026/a.xmp', $file->sidecarPath());
    }

    public function testAChangeFromOutsideComesBackAsItWasKept(): void
    {
        $file = self::in('asked');
        $change = new OutsideChange('/shelf', 'a.jpg', self::content('x'), 9, new Metadata(
            ['headline' => 'Quay'],
            ['harbour'],
            [['places', 'harbour']],
            3,
        ), true);
        $file->changedOutside($change);
        self::assertEquals($change, $file->outside());
        self::assertFalse($file->isToBeWritten(), 'Whose is to stay must be settled first.');
        $file->changedOutside(null);
        self::assertNull($file->outside());
    }

    public function testARawFileThatItsDngTakesThePlaceOfIsNotWrittenInto(): void
    {
        foreach ([DngChoice::Instead, DngChoice::Embed] as $choice) {
            $file = self::raw($choice, true);
            self::assertFalse($file->isToBeWritten());
        }
        self::assertTrue(self::raw(DngChoice::Beside, true)->isToBeWritten());
        self::assertTrue(self::raw(DngChoice::No, true)->isToBeWritten());
    }

    public function testADngRemembersWhatWasReceivedAndGivesItBack(): void
    {
        $file = self::in('to be converted');
        $file->becameDng(new MadeDng('2026/a.dng', self::content('dng'), str_repeat('5', 32)), true);
        self::assertSame(['2026/a.dng', FileKind::Dng], [$file->path(), $file->kind()]);
        self::assertEquals(self::content('received'), $file->received());
        self::assertEquals(self::content('dng'), $file->content());
        self::assertSame('2026/a.trw', $file->rawPath());
        self::assertTrue($file->holdsMetadata());
        self::assertSame(MetadataState::Waiting, $file->metadataState());
        $file->rawLeft();
        $file->rawAskedBack();
        $dng = $file->rawTakenOut(false);
        self::assertSame(['2026/a.trw', FileKind::Raw], [$file->path(), $file->kind()]);
        self::assertEquals(self::content('received'), $file->content());
        self::assertNull($file->samples());
        self::assertSame(['2026/a.dng', FileKind::Dng, 7], [$dng->path(), $dng->kind(), $dng->madeFrom()]);
        self::assertEquals(self::content('dng'), $dng->received());
        self::assertSame(str_repeat('5', 32), $dng->samples());
        self::assertSame(MetadataState::Waiting, $dng->metadataState());
        self::assertSame(MetadataState::None, $file->metadataState());
    }

    public function testADngBesideItsRawFileSaysWhatTheFrameSays(): void
    {
        foreach ([true, false] as $says) {
            $file = self::in('to be converted beside');
            $made = new MadeDng('2026/a.dng', self::content('dng'), str_repeat('5', 32));
            $dng = $file->dngMadeBeside($made, str_repeat('6', 32), $says, self::at());
            self::assertSame($says ? MetadataState::Waiting : MetadataState::None, $dng->metadataState());
            self::assertSame(['original_name' => 'A.TRW'], $dng->ofFile());
            self::assertSame(DngState::Made, $file->dngState());
        }
    }

    private static function summary(FiledFile $file, bool $ofDng): string
    {
        return $ofDng
            ? $file->kind()->value.': '.$file->dngState()->value
            : implode(', ', array_filter([
                $file->metadataState()->value,
                null === $file->writing() ? '' : 'begun',
                null === $file->outside() ? '' : 'changed outside',
            ], static fn (string $part): bool => '' !== $part));
    }

    private static function in(string $state): FiledFile
    {
        [$from, $transitions] = match ($state) {
            'nothing said' => ['jpeg', []],
            'asked' => ['jpeg', ['metadata asked']],
            'being written' => ['jpeg', ['metadata asked', 'writing began']],
            'written' => ['jpeg', ['metadata asked', 'writing began', 'written']],
            'refused' => ['jpeg', ['metadata asked', 'writing refused']],
            'changed outside' => ['jpeg', ['metadata asked', 'writing began', 'written', 'changed outside']],
            'raw' => ['raw', []],
            'to be converted' => ['raw', ['dng asked']],
            'to be converted beside' => ['raw beside', []],
            'not converted' => ['raw', ['dng asked', 'dng refused']],
            'beside its dng' => ['raw beside', ['made beside']],
            'raw leaving' => ['raw', ['dng asked', 'became dng']],
            'dng' => ['raw', ['dng asked', 'became dng', 'raw left']],
            'raw returning' => ['raw', ['dng asked', 'became dng', 'raw left', 'raw asked back']],
            'raw not taken out' => ['raw', ['dng asked', 'became dng', 'raw left', 'raw asked back', 'dng refused']],
            default => self::fail($state),
        };
        $file = match ($from) {
            'raw' => self::raw(DngChoice::No, false),
            'raw beside' => self::raw(DngChoice::Beside, false),
            default => self::file(FileKind::Jpeg, DngChoice::No, false),
        };
        foreach ($transitions as $transition) {
            self::do($file, $transition);
        }

        return $file;
    }

    private static function raw(DngChoice $choice, bool $says): FiledFile
    {
        return self::file(FileKind::Raw, $choice, $says);
    }

    private static function file(FileKind $kind, DngChoice $choice, bool $says): FiledFile
    {
        $file = FiledFile::filed(
            new FiledAs(2, 3, 4, FileKind::Raw === $kind ? '2026/a.trw' : '2026/a.jpg'),
            new Received('DCIM/A.TRW', $kind, self::content('received'), str_repeat('1', 32), 10),
            new PlannedWords($says ? ['headline' => 'Quay'] : [], [], ['original_name' => 'A.TRW']),
            $choice,
            self::at(),
        );
        // as the database gives it when it is stored
        (new \ReflectionProperty($file, 'id'))->setValue($file, 7);

        return $file;
    }

    private static function content(string $bytes): Content
    {
        return new Content(Digest::ofBytes($bytes), \strlen($bytes));
    }

    public static function change(bool $picture = false): OutsideChange
    {
        return new OutsideChange('/shelf', '2026/a.xmp', self::content('theirs'), 30, new Metadata(), $picture);
    }

    private static function at(): \DateTimeImmutable
    {
        return new \DateTimeImmutable('2026-11-29T07:00:00Z');
    }

    private static function do(FiledFile $file, string $transition): void
    {
        $made = new MadeDng('2026/a.dng', self::content('dng'), str_repeat('5', 32));
        match ($transition) {
            'metadata asked' => $file->metadataAsked(),
            'own taken' => $file->ownTaken(),
            'changed outside' => $file->changedOutside(self::change()),
            'agreed' => $file->agreed(),
            'repaired' => $file->repaired(40, self::at()),
            'repaired in part' => $file->repairedInPart(self::at()),
            'writing began' => $file->writingBegan($file->wanted(), self::content('written')),
            'writing undone' => $file->writingUndone(),
            'writing stuck' => $file->writingStuck(),
            'written' => $file->written(40, ''),
            'sidecar written' => $file->sidecarWritten('2026/a.xmp', 40, ''),
            'writing refused' => $file->writingRefused('No room in it.'),
            'said beside' => $file->sayBeside('Its packet is broken.'),
            'put back' => $file->putBack(),
            'outside taken' => $file->outsideTaken($file->outside() ?? self::change(), false),
            'dng asked' => $file->dngAsked(DngChoice::Embed),
            'became dng' => $file->becameDng($made, false),
            'made beside' => $file->dngMadeBeside($made, str_repeat('6', 32), false, self::at()),
            'dng refused' => $file->dngRefused('It has no samples.'),
            'raw left' => $file->rawLeft(),
            'raw asked back' => $file->rawAskedBack(),
            'raw taken out' => $file->rawTakenOut(false),
            'raw received again' => $file->rawReceivedAgain(40, self::at()),
            default => self::fail($transition),
        };
    }
}
