<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Psr\Clock\ClockInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FiledWriting;
use Velvet\Core\Filed\OutsideChange;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\FiledPlaces;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Transaction;

/**
 * Filed files and sidecars that another program changed: noticed by size and time, then by their digests, and offered.
 * Until it is said whose is to stay, nothing of ours is written into them.
 */
final readonly class OutsideChanges
{
    /** Seconds; FAT keeps times to two of them. */
    private const TIMES_DIFFER = 2;

    public function __construct(
        private Transaction $transaction,
        private FiledFrames $frames,
        private Locks $locks,
        private FrameMetadata $says,
        private Keywords $keywords,
        private MetadataQueue $queue,
        private FiledWriting $writing,
        private Ledger $ledger,
        private Happenings $happenings,
        private ClockInterface $clock,
        private FiledCopies $copies,
        private FiledFiles $files,
    ) {
    }

    /** Looks at every file of a shoot, and takes in what files say that were not asked yet. */
    public function look(int $shoot): void
    {
        foreach ($this->files->framesNotAsked($shoot, null) as $frame) {
            $this->says->takeOwn($frame);
        }
        $files = $this->files->ofShoot($shoot);
        $places = $this->files->placesOf($files);
        $copies = [];
        foreach ($this->copies->of(array_map(static fn (FiledFile $file): int => $file->id(), $files)) as $copy) {
            $copies[$copy->int('file_id')][] = $copy;
        }
        foreach ($files as $file) {
            if ($this->mayHaveChanged($file, $places[$file->id()], $copies[$file->id()] ?? [])) {
                $this->lookCloser($file->id());
            }
        }
        $this->happenings->tell('shoot', ['id' => $shoot]);
    }

    /** @return bool whether the file was changed outside */
    public function lookAtFile(int $id): bool
    {
        $file = $this->files->get($id);

        return $this->mayHaveChanged($file, $this->files->places($file), $this->copies->of([$id]))
            && $this->lookCloser($id);
    }

    /**
     * What changed outside in a shoot.
     *
     * @return list<array{file: int, name: string, path: string, place: string, picture_changed: bool,
     *     differences: list<array{field: string, ours: string, theirs: string}>}>
     */
    public function in(int $shoot): array
    {
        $changes = [];
        foreach ($this->files->changedOutside($shoot) as $file) {
            $change = $file->outside();
            if (null !== $change) {
                $changes[] = [
                    'file' => $file->id(), 'name' => basename($change->path), 'path' => $change->file(),
                    'place' => $change->root === $this->files->places($file)->shelf ? 'shelf' : 'twin',
                    'picture_changed' => $change->pictureChanged,
                    'differences' => $this->differences($file, $change),
                ];
            }
        }

        return $changes;
    }

    /**
     * The other program's file stays and goes to the other drive, too; what it says is said by the frame from now on.
     *
     * @throws OutsideRefused
     */
    public function takeTheirs(int $id): void
    {
        $this->locks->with(Lock::FiledFile, $id, function () use ($id): void {
            [$file, $change] = $this->changed($id);
            $this->adopt($file, $change, 'outside_taken');
            $frame = $file->frame();
            $texts = [];
            foreach ($this->differences($file, $change) as $difference) {
                if (null !== Field::tryFrom($difference['field'])) {
                    $texts[$difference['field']] = $difference['theirs'];
                }
            }
            $ids = $this->keywords->idsSaidBy($change->says);
            $this->transaction->of(function () use ($frame, $texts, $change, $ids, $id): void {
                foreach ($this->frames->wordsToChange([$frame]) as $now) {
                    $rating = $change->says->rating ?? (null === $now->rating ? null : 0);
                    $this->frames->say([$frame], $texts, $rating);
                }
                $this->frames->giveInstead($frame, $ids);
                // the frame's other files follow
                $this->queue->ask([$frame]);
                $this->files->change($id, static fn (FiledFile $file) => $file->agreed());
            });
        });
        $this->queue->begin();
    }

    /**
     * What the frame says is written into the file again; what else the other program wrote stays. A file whose picture
     * changed is put back from the other drive, where that has the picture as it was filed.
     *
     * @throws OutsideRefused
     */
    public function keepOurs(int $id): void
    {
        $this->locks->with(Lock::FiledFile, $id, function () use ($id): void {
            [$file, $change] = $this->changed($id);
            if ($change->pictureChanged) {
                $this->putBack($file, $change);

                return;
            }
            // asked for first: where this ends in the middle, nothing is taken for settled
            $this->queue->ask([$file->frame()]);
            $this->adopt($file, $change, 'outside_overruled');
        });
        $this->queue->begin();
    }

    /** @throws OutsideRefused */
    private function putBack(FiledFile $file, OutsideChange $change): void
    {
        $target = $this->target($file, $change);
        $content = $target->content ?? throw OutsideRefused::noOtherCopy($change->file());
        $theirs = $change->file();
        foreach ($target->paths() as $path) {
            if ($path !== $theirs && MetadataWriting::holds($path, $content->digest)) {
                try {
                    $this->writing->handOver(
                        $path,
                        $theirs,
                        $change->content->digest,
                        $content->digest,
                        $target->modifiedAt ?? $this->clock->now()->getTimestamp(),
                        'put-back-'.$file->id(),
                        $target->grounds()[$theirs] ?? null,
                    );
                } catch (TransferFailure $e) {
                    throw OutsideRefused::failed($theirs, $e->getMessage());
                }
                $this->files->change($file->id(), function (FiledFile $file) use ($target, $content): void {
                    $file->putBack();
                    $this->copies->verified(
                        $file->id(),
                        $file->shelf(),
                        $target->places->connected,
                        $target->path,
                        $content->digest,
                        $content->bytes,
                    );
                    $this->ledger->write(
                        'outside_put_back',
                        [
                            'file' => $file->id(),
                            'intake' => $file->intake(),
                            'from' => $file->originalPath(),
                            'to' => $target->path,
                            'digest' => $content->digest->labelled(),
                        ],
                    );
                });

                return;
            }
        }
        throw OutsideRefused::noOtherCopy($theirs);
    }

    /**
     * Where a changed file says something else than its frame.
     *
     * @return list<array{field: string, ours: string, theirs: string}>
     */
    private function differences(FiledFile $file, OutsideChange $change): array
    {
        $ours = $this->says->of($file);
        $own = $this->frames->words($file->frame())->own;
        $ours = new Metadata($ours->texts + $own->texts, $ours->keywords, $ours->paths, $ours->rating ?? $own->rating);

        return array_values(
            array_filter(
                $ours->differences($change->says),
                static fn (array $difference): bool => false !== Field::tryFrom($difference['field'])?->isTyped(),
            ),
        );
    }

    /**
     * @return array{FiledFile, OutsideChange} as it is now
     *
     * @throws OutsideRefused
     */
    private function changed(int $id): array
    {
        $file = $this->files->find($id);
        if (null === $file?->outside() || !$this->lookCloser($id)) {
            throw OutsideRefused::notChanged(); // it may have been put back meanwhile
        }
        $file = $this->files->get($id);

        return [$file, $file->outside() ?? throw OutsideRefused::notChanged()];
    }

    /**
     * The ledger has the changed content from now on, and the other drive gets it.
     *
     * @throws OutsideRefused
     */
    private function adopt(FiledFile $file, OutsideChange $change, string $event): void
    {
        $target = $this->target($file, $change);
        $new = $change->content;
        foreach ($target->paths() as $path) {
            try {
                if ($path !== $change->file() && !MetadataWriting::holds($path, $new->digest)) {
                    $this->writing->handOver(
                        $change->file(),
                        $path,
                        $target->content?->digest,
                        $new->digest,
                        $change->modifiedAt,
                        'outside-'.$file->id(),
                        $target->grounds()[$path] ?? null,
                    );
                }
            } catch (TransferFailure $e) {
                throw OutsideRefused::failed($path, $e->getMessage());
            }
        }
        $this->files->change($file->id(), function (FiledFile $file) use ($target, $change, $new, $event): void {
            // a file with another picture is not what came from the card: it clears none
            $file->outsideTaken($change, $target->isSidecar);
            if (!$target->isSidecar) {
                $this->copies->verified(
                    $file->id(),
                    $file->shelf(),
                    $target->places->connected,
                    $target->path,
                    $new->digest,
                    $new->bytes,
                );
            }
            $this->ledger->write(
                $event,
                [
                    'file' => $file->id(),
                    'places' => $target->places->connected,
                    'intake' => $file->intake(),
                    'from' => $file->originalPath(),
                    'to' => $change->path,
                    'before' => $target->content?->digest->labelled(),
                    'digest' => $new->digest->labelled(),
                ],
            );
        });
    }

    /** @param list<Row> $copies as {@see FiledCopies::of()} gives them */
    private function mayHaveChanged(FiledFile $file, FiledPlaces $places, array $copies): bool
    {
        return null !== $file->outside()
            || self::isAnyBehind($copies, $places)
            || null !== $this->changedPlace($file, $places);
    }

    /** With the file to ourselves: a worker of ours may just have written it. */
    private function lookCloser(int $id): bool
    {
        if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
            return false;
        }
        try {
            $file = $this->files->get($id);
            $places = $this->files->places($file);
            $this->bringLevel($file, $places);
            $found = $this->changedPlace($file, $places);
            // taken over unasked only where nothing that is said differs and no place is away that may know better
            if (
                null !== $found
                && !$found->pictureChanged
                && $places->areConnected()
                && [] === $this->differences($file, $found)
            ) {
                // as where an editor keeps its own settings: there is nothing to choose
                try {
                    $this->adopt($file, $found, 'outside_taken');

                    return false;
                } catch (OutsideRefused) {
                    // the other drive cannot take it now: it is offered, and said then
                }
            }
            $this->files->change($id, static fn (FiledFile $file) => $file->changedOutside($found));

            return null !== $found;
        } finally {
            $this->locks->release(Lock::FiledFile, $id);
        }
    }

    private function changedPlace(FiledFile $file, FiledPlaces $places): ?OutsideChange
    {
        if (null !== $file->writing()) {
            return null; // ours is on its way
        }
        foreach (SidecarName::cases() as $naming) {
            $target = MetadataTarget::of($file, $places, $naming);
            $found = $this->changedCopy($target, $file);
            if (null !== $found || !$target->isSidecar || null !== $target->content) {
                return $found; // there is just one place to look at where the holder is known
            }
        }

        return null;
    }

    private function changedCopy(MetadataTarget $target, FiledFile $file): ?OutsideChange
    {
        foreach ($target->places->connected as $root) {
            $path = $root.'/'.$target->path;
            clearstatcache(true, $path);
            if (!is_file($path)) {
                continue; // a check of the drives finds what is missing
            }
            [$bytes, $modifiedAt] = [(int) @filesize($path), (int) @filemtime($path)];
            if (
                $bytes === $target->content?->bytes
                && null !== $target->modifiedAt
                && abs($modifiedAt - $target->modifiedAt) <= self::TIMES_DIFFER
            ) {
                continue;
            }
            try {
                $digest = Digest::ofFile($path);
                if (
                    true === $target->content?->digest->equals($digest)
                    || $this->isBehind($target, $file, $root, $digest)
                ) {
                    continue;
                }

                return new OutsideChange(
                    $root,
                    $target->path,
                    new Content($digest, $bytes),
                    $modifiedAt,
                    $target->kind->read(FileBytes::open($path)),
                    $this->pictureChanged($target, $path, $file->pictureDigest()),
                );
            } catch (StructureBroken|FileUnreadable) {
                continue; // it is damaged rather than edited, which a check of the drives says
            }
        }

        return null;
    }

    /**
     * Whether a copy still has what was verified there before the others got another content while its drive was away.
     */
    private function isBehind(MetadataTarget $target, FiledFile $file, string $root, Digest $digest): bool
    {
        foreach ($target->isSidecar ? [] : $this->copies->of([$file->id()]) as $copy) {
            if (
                $copy->text('root') === $root
                && $copy->text('verified') === $digest->hex
                && $copy->text('digest') !== $digest->hex
            ) {
                return true;
            }
        }

        return false;
    }

    /** @param list<Row> $copies */
    private static function isAnyBehind(array $copies, FiledPlaces $places): bool
    {
        return [] !== array_filter(
            $copies,
            static fn (Row $copy): bool => $copy->text('verified') !== $copy->text('digest')
                && \in_array($copy->text('root'), $places->connected, true),
        );
    }

    /** Gives copies that stayed behind while their drive was away what the others have. */
    private function bringLevel(FiledFile $file, FiledPlaces $places): void
    {
        $target = MetadataTarget::of($file, $places, SidecarName::Stem);
        $content = $target->content;
        if ($target->isSidecar || null === $content) {
            return;
        }
        $from = array_values(
            array_filter(
                $target->paths(),
                static fn (string $path): bool => MetadataWriting::holds($path, $content->digest),
            ),
        )[0] ?? null;
        if (null === $from) {
            return;
        }
        foreach ($places->connected as $root) {
            $path = $root.'/'.$target->path;
            try {
                $digest = is_file($path) ? Digest::ofFile($path) : null;
                if (null !== $digest && $this->isBehind($target, $file, $root, $digest)) {
                    $this->writing->handOver(
                        $from,
                        $path,
                        $digest,
                        $content->digest,
                        $target->modifiedAt ?? $this->clock->now()->getTimestamp(),
                        'level-'.$file->id(),
                        $target->grounds()[$path] ?? null,
                    );
                    $this->copies->verified(
                        $file->id(),
                        $file->shelf(),
                        [$root],
                        $target->path,
                        $content->digest,
                        $content->bytes,
                    );
                }
            } catch (TransferFailure|FileUnreadable) {
                continue; // it stays behind, which a check of the drives says
            }
        }
    }

    /**
     * Whether the picture in a changed file is another one than was filed. Where nobody can tell, it is: unknown is
     * never unchanged.
     */
    private function pictureChanged(MetadataTarget $target, string $theirs, ?string $filed): bool
    {
        if ($target->isSidecar || null === $target->content) {
            return false;
        }
        $digest = static fn (string $path): string => MetadataCopy::pictureDigest(
            $target->kind,
            FileBytes::open($path),
        );
        if (null !== $filed) {
            return $filed !== $digest($theirs);
        }
        foreach ($target->paths() as $path) {
            if ($path !== $theirs && MetadataWriting::holds($path, $target->content->digest)) {
                return $digest($path) !== $digest($theirs);
            }
        }

        return true;
    }

    private function target(FiledFile $file, OutsideChange $change): MetadataTarget
    {
        $places = $this->files->places($file);
        $stem = MetadataTarget::of($file, $places, SidecarName::Stem);

        return $stem->path === $change->path ? $stem : MetadataTarget::of($file, $places, SidecarName::Whole);
    }
}
