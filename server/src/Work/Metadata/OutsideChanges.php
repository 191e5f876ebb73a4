<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Psr\Clock\ClockInterface;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Filed\CopiesToWrite;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FiledWriting;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Filed\OutsideChange;
use Velvet\Core\Filed\OutsideLook;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Marks;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Work\Keywords\Keywords;

/**
 * Filed files and sidecars that another program changed: noticed by size and time, then by their digests, and offered.
 * Until it is said whose is to stay, nothing of ours is written into them.
 */
final readonly class OutsideChanges
{
    public function __construct(
        private Transaction $transaction,
        private FiledFrames $frames,
        private Locks $locks,
        private FrameMetadata $says,
        private Keywords $keywords,
        private Marks $marks,
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
            $copies[$copy->file][] = $copy;
        }
        foreach ($files as $file) {
            if ((new OutsideLook($file, $places[$file->id()], $copies[$file->id()] ?? []))->findsAnything()) {
                $this->lookCloser($file->id());
            }
        }
        $this->happenings->tell('shoot', ['id' => $shoot]);
    }

    /** @return bool whether the file was changed outside */
    public function lookAtFile(int $id): bool
    {
        return $this->lookFor($this->files->get($id))->findsAnything() && $this->lookCloser($id);
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
                $struckToo = [] !== $this->frames->writingStruck([$frame]);
                foreach ($this->frames->wordsToChange([$frame]) as $now) {
                    [$rating, $verdict] = $now->ratedOutside($change->says->rating, $struckToo);
                    $rating = $rating === $now->rating() ? null : $rating; // whoever gave it, gave it
                    if (null !== $rating || null !== $verdict) {
                        $this->marks->keep([$frame], null);
                    }
                    $this->frames->say([$frame], $texts, $rating, $verdict);
                }
                $this->followRotation($frame, $change);
                $this->frames->giveInstead($frame, $ids);
                // the frame's other files follow
                $this->queue->ask([$frame]);
                $this->files->change($id, static fn (FiledFile $file) => $file->agreed());
                $this->happenings->tell('shoot', ['id' => $this->frames->shootOf($frame)]);
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
            if ($this->isRotated($file->frame(), $change)) {
                $this->frames->say([$file->frame()], $this->shownHere($file->frame()), null);
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
            if ($path !== $theirs && $content->digest->isOfFile($path)) {
                try {
                    $this->writing->handOver($path, new CopiesToWrite(
                        [$theirs],
                        $change->content->digest,
                        $target->modifiedAt ?? $this->clock->now()->getTimestamp(),
                        'put-back-'.$file->id(),
                        $target->grounds(),
                    ), $content->digest);
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

    /** A picture that the other program rotated is shown so, and the frame's other files follow. */
    private function followRotation(int $frame, OutsideChange $change): bool
    {
        $isRotated = $this->isRotated($frame, $change);
        if ($isRotated) {
            $this->frames->say([$frame], self::shownThere($change), null);
            $this->queue->ask([$frame]);
        }

        return $isRotated;
    }

    private function isRotated(int $frame, OutsideChange $change): bool
    {
        [$here, $there] = [$this->shownHere($frame), self::shownThere($change)];

        return [] !== $here && [] !== $there && $here !== $there;
    }

    /** @return array<string, string> how the other program says that its picture is shown, if it does */
    private static function shownThere(OutsideChange $change): array
    {
        return array_intersect_key($change->says->texts, [Field::Orientation->value => true]);
    }

    /** @return array<string, string> how a frame's picture is shown, as it is said; nothing where it has none */
    private function shownHere(int $frame): array
    {
        $shown = $this->frames->shown([$frame])[$frame] ?? null;

        return null === $shown ? [] : [Field::Orientation->value => (string) $shown->value];
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
                if ($path !== $change->file() && !$new->digest->isOfFile($path)) {
                    $this->writing->handOver($change->file(), new CopiesToWrite(
                        [$path],
                        $target->content?->digest,
                        $change->modifiedAt,
                        'outside-'.$file->id(),
                        $target->grounds(),
                    ), $new->digest);
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

    private function lookFor(FiledFile $file): OutsideLook
    {
        return new OutsideLook($file, $this->files->places($file), $this->copies->of([$file->id()]));
    }

    /** With the file to ourselves: a worker of ours may just have written it. */
    private function lookCloser(int $id): bool
    {
        if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
            return false;
        }
        try {
            $file = $this->files->get($id);
            $this->bringLevel($file, $this->lookFor($file));
            $look = $this->lookFor($file);
            $found = $look->change();
            if (null !== $found && $look->isOfNoConcern($found, $this->differences($file, $found))) {
                // as where an editor keeps its own settings: there is nothing to choose
                try {
                    $this->adopt($file, $found, 'outside_taken');
                    if ($this->transaction->of(fn (): bool => $this->followRotation($file->frame(), $found))) {
                        $this->queue->begin();
                    }

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

    /** Gives copies that stayed behind while their drive was away what the others have. */
    private function bringLevel(FiledFile $file, OutsideLook $look): void
    {
        [$from, $behind] = $look->behind() ?? ['', []];
        $target = MetadataTarget::of($file, $this->files->places($file), SidecarName::Stem);
        $content = $file->content();
        foreach ($behind as $root => $digest) {
            $path = $root.'/'.$target->path;
            try {
                $this->writing->handOver($from, new CopiesToWrite(
                    [$path],
                    $digest,
                    $target->modifiedAt ?? $this->clock->now()->getTimestamp(),
                    'level-'.$file->id(),
                    $target->grounds(),
                ), $content->digest);
                $this->copies->verified(
                    $file->id(),
                    $file->shelf(),
                    [$root],
                    $target->path,
                    $content->digest,
                    $content->bytes,
                );
            } catch (TransferFailure) {
                continue; // it stays behind, which a check of the drives says
            }
        }
    }

    private function target(FiledFile $file, OutsideChange $change): MetadataTarget
    {
        return $this->lookFor($file)->target($change);
    }
}
