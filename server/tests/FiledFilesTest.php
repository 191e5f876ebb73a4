<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledAs;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MadeDng;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Filed\OutsideChange;
use Velvet\Core\Filed\Received;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledRaws;

/** Filed files come back as they were kept, change as a whole or not at all, and by the thousand as one by one. */
final class FiledFilesTest extends ServerTestCase
{
    public function testAFileComesBackAsItWasKept(): void
    {
        $files = $this->get(FiledFiles::class);
        $id = $files->add($this->image('raw.trw', FileKind::Raw, DngChoice::Embed));
        $kept = $files->get($id);
        self::assertSame(
            ['raw.trw', FileKind::Raw, DngChoice::Embed, ['original_name' => 'A.TRW'], -60, 10, str_repeat('3', 32)],
            [
                $kept->path(), $kept->kind(), $kept->dngChoice(), $kept->ofFile(), $kept->clock(), $kept->modifiedAt(),
                $kept->pictureDigest(),
            ],
        );
        self::assertEquals(new Content(Digest::ofBytes('a'), 1, 'sha256:'.str_repeat('2', 64)), $kept->received());
        self::assertEquals(new \DateTimeImmutable('2026-11-29T07:00:00Z'), $kept->filedAt());

        $change = new OutsideChange('/s', 'raw.xmp', new Content(Digest::ofBytes('b'), 1), 5, new Metadata(
            [],
            ['quay'],
            [['places', 'quay']],
            -1,
        ), false);
        $files->change($id, static fn (FiledFile $file) => $file->changedOutside($change));
        self::assertEquals($change, $files->get($id)->outside());
    }

    public function testWhatFailsInTheMiddleChangesNothing(): void
    {
        $files = $this->get(FiledFiles::class);
        $id = $files->add($this->image('a.jpg', FileKind::Jpeg));
        try {
            $files->change($id, static function (FiledFile $file): never {
                $file->ownTaken();
                throw new \RuntimeException('The drive went.');
            });
        } catch (\RuntimeException) {
        }
        self::assertFalse($files->get($id)->isOwnTaken());
        $files->change($id, static fn (FiledFile $file) => $file->ownTaken());
        self::assertTrue($files->get($id)->isOwnTaken());
    }

    /** @param \Closure(FiledFile): void $before */
    #[DataProvider('states')]
    public function testAskingManyIsAskingEach(\Closure $before): void
    {
        $files = $this->get(FiledFiles::class);
        $one = $files->add($this->image('a.jpg', FileKind::Jpeg));
        $other = $files->add($this->image('b.jpg', FileKind::Jpeg));
        foreach ([$one, $other] as $id) {
            $files->change($id, $before);
        }
        $files->change($one, static fn (FiledFile $file) => $file->metadataAsked());
        $files->ask([$files->get($other)->frame()]);
        self::assertSame($this->metadata($one), $this->metadata($other));
    }

    /** @return iterable<string, array{\Closure(FiledFile): void}> */
    public static function states(): iterable
    {
        $new = new Content(Digest::ofBytes('new'), 3);
        $begin = static function (FiledFile $file) use ($new): void {
            $file->metadataAsked();
            $file->writingBegan($file->wanted(), $new);
        };
        yield 'nothing said' => [static fn () => null];
        yield 'waiting' => [static fn (FiledFile $file) => $file->metadataAsked()];
        yield 'being written' => [$begin];
        yield 'stuck' => [static function (FiledFile $file) use ($begin): void {
            $begin($file);
            $file->writingStuck();
        }];
        yield 'written' => [static function (FiledFile $file) use ($begin): void {
            $begin($file);
            $file->written(5, 'Cut.');
        }];
        yield 'refused' => [static function (FiledFile $file): void {
            $file->metadataAsked();
            $file->writingRefused('No.');
        }];
    }

    public function testWhatCanBeWrittenNowIsFoundAsTheFileItselfSaysIt(): void
    {
        $files = $this->get(FiledFiles::class);
        $says = new PlannedWords(['headline' => 'Quay']);
        $ids = [];
        foreach (DngChoice::cases() as $choice) {
            $ids[] = $files->add($this->image($choice->value.'.trw', FileKind::Raw, $choice, $says));
        }
        $ids[] = $files->add($this->image('nothing.jpg', FileKind::Jpeg));
        $ids[] = $changed = $files->add($this->image('changed.jpg', FileKind::Jpeg, DngChoice::No, $says));
        $change = new OutsideChange('/s', 'a', new Content(Digest::ofBytes('b'), 1), 5, new Metadata(), false);
        $files->change($changed, static fn (FiledFile $file) => $file->changedOutside($change));
        $this->database()->executeStatement(
            "UPDATE intake SET state = 'done', started_at = now(), finished_at = now()",
        );
        self::assertSame(
            array_values(array_filter($ids, static fn (int $id): bool => $files->get($id)->isToBeWritten())),
            $files->toBeWritten(null, 0, 100),
        );
    }

    /** Each kind of raw file on its way to DNG and back, asked of the files and of the database. */
    public function testWhatCanBecomeDngOrGiveItsRawBackIsFoundAsTheFileItselfSaysIt(): void
    {
        $files = $this->get(FiledFiles::class);
        $content = new Content(Digest::ofBytes('dng'), 3);
        $made = static fn (string $path): MadeDng => new MadeDng($path.'.dng', $content, str_repeat('5', 32));
        $does = [
            'none' => static fn (FiledFile $file) => null,
            'refused' => static fn (FiledFile $file) => $file->dngRefused('No.'),
            'within' => static fn (FiledFile $file) => $file->becameDng($made($file->path()), false),
            'settled' => static function (FiledFile $file) use ($made): void {
                $file->becameDng($made($file->path()), false);
                $file->rawLeft();
            },
        ];
        $ids = $beside = [];
        foreach ([DngChoice::No, DngChoice::Embed, DngChoice::Instead, DngChoice::Beside] as $choice) {
            foreach ($does as $name => $do) {
                $isDone = 'none' === $name
                    || (DngChoice::No !== $choice && ('refused' === $name || !$choice->keepsRaw()));
                if ($isDone) {
                    $ids[] = $id = $files->add($this->image($choice->value.$name.'.trw', FileKind::Raw, $choice));
                    $files->change($id, $do);
                }
            }
        }
        $ids[] = $id = $files->add($this->image('beside.trw', FileKind::Raw, DngChoice::Beside));
        $dng = $files->change($id, static fn (FiledFile $file): FiledFile => $file->dngMadeBeside(
            $made('beside'),
            str_repeat('6', 32),
            false,
            new \DateTimeImmutable('2026-11-29T07:00:00Z'),
        ));
        $beside[] = $id;
        $ids[] = $files->add($dng);
        $ids[] = $files->add($this->image('a.jpg', FileKind::Jpeg));
        $frames = array_map(static fn (int $id): int => $files->get($id)->frame(), $ids);
        $may = $inside = [];
        foreach ($ids as $id) {
            array_push($may, ...($files->get($id)->mayBecomeDng() ? [$id] : []));
            array_push($inside, ...($files->get($id)->mayGiveRawBack() ? [$id] : []));
        }
        $raws = $this->get(FiledRaws::class);
        self::assertSame(array_values(array_diff($may, $beside)), $raws->convertible(1, $frames));
        self::assertSame($inside, $raws->withRawInside(1, $frames));
        self::assertNotSame([], $may);
        self::assertNotSame([], $inside);
        $count = $raws->count(1, $frames);
        self::assertSame([\count($may) - 1, \count($inside)], [$count['raws'], $count['inside']]);
    }

    /** @return array<string, mixed> */
    private function metadata(int $file): array
    {
        $row = $this->database()->fetchAssociative(
            'SELECT metadata_state, metadata_wanted, metadata_begun, metadata_note, metadata_tries, metadata_digest,
                metadata_second, metadata_bytes FROM filed_file WHERE id = ?',
            [$file],
        );
        self::assertIsArray($row);
        self::assertSame(MetadataState::Waiting->value, $row['metadata_state']);

        return $row;
    }

    private function image(
        string $path,
        FileKind $kind,
        DngChoice $dng = DngChoice::No,
        PlannedWords $words = new PlannedWords([], [], ['original_name' => 'A.TRW'], -60),
    ): FiledFile {
        if (null === $this->entities()->find(\Velvet\Server\Store\Intake::class, 1)) {
            $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
            $this->sheet();
            $this->database()->executeStatement(
                "INSERT INTO shoot (id, shelf_id, folder, name, created_at) VALUES (1, 1, 'x', 'x', now())",
            );
        }
        $frame = $this->database()->fetchOne(
            "INSERT INTO filed_frame (shoot_id, facts, stem) VALUES (1, '{}', 'x') RETURNING id",
        );
        self::assertIsInt($frame);
        $content = new Content(Digest::ofBytes('a'), 1, 'sha256:'.str_repeat('2', 64));

        return FiledFile::filed(
            new FiledAs($frame, 1, 1, $path),
            new Received('A.TRW', $kind, $content, str_repeat('1', 32), 10, str_repeat('3', 32)),
            $words,
            $dng,
            new \DateTimeImmutable('2026-11-29T07:00:00Z'),
        );
    }
}
