<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Copy\DestinationUnwritable;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\FileMove;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\SyncedFolder;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\AsideFolder;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FilePlaces;
use Velvet\Core\Filed\Whereabouts;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;

/**
 * Brings the copies of files where they are on their way to, in every place: by renaming on each drive, no byte is
 * written anew. Where that was cut off it is begun again, and what lies there already stays. A file that cannot be
 * moved now waits, with the reason, and the others go on.
 */
final readonly class FileMoves
{
    private const CANDIDATES = 50;
    /** Files between two words to the browsers. */
    private const TELL_EVERY = 20;

    public function __construct(
        private Locks $locks,
        private AsideFrames $frames,
        private FiledFrames $filed,
        private FiledFiles $files,
        private FiledCopies $copies,
        private Ledger $ledger,
        private Happenings $happenings,
        private LoggerInterface $logger,
    ) {
    }

    /** All that can be brought there now. */
    public function all(): void
    {
        $after = $done = 0;
        $shoots = [];
        while ([] !== $page = $this->frames->moving($after, self::CANDIDATES)) {
            foreach ($page as $id) {
                $after = $id;
                $shoot = $this->one($id);
                if (null !== $shoot) {
                    $shoots[$shoot] = true;
                    if (0 === ++$done % self::TELL_EVERY) {
                        $this->tell($shoots);
                    }
                }
            }
        }
        $this->tell($shoots);
    }

    /** @param array<int, true> $shoots by their ids */
    private function tell(array $shoots): void
    {
        foreach (array_keys($shoots) as $shoot) {
            $this->happenings->tell('shoot', ['id' => $shoot]);
        }
    }

    /** @return int|null the file's shoot; null where another worker is at it */
    private function one(int $id): ?int
    {
        if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
            return null;
        }
        try {
            $file = $this->files->get($id);
            if (null === $file->heading() || null !== $file->writing()) {
                return null; // it is there already, or what is being written into it comes first
            }
            try {
                $this->bring($file, $this->files->places($file));
            } catch (TransferFailure $e) {
                $why = self::why($file, $e);
                if ($why !== $file->moveNote()) {
                    $this->logger->warning('Not moved yet: {why}', ['why' => $why]);
                    $this->files->change($id, static fn (FiledFile $now) => $now->moveStuck($why));
                }
            }

            return $this->filed->shootOf($file->frame());
        } finally {
            $this->locks->release(Lock::FiledFile, $id);
        }
    }

    private static function why(FiledFile $file, TransferFailure $e): string
    {
        return match (true) {
            $e instanceof DriveGone => 'A drive went away meanwhile. Connect it again, and the rest is moved by '
                .'itself.',
            $e instanceof NameTaken => \sprintf(
                '“%s” is there already as another file, so %s stays where it is. Give the other file another name, '
                    .'and the rest is moved by itself.',
                $file->movesTo() ?? '',
                $file->name(),
            ),
            default => $e->getMessage(),
        };
    }

    /**
     * @throws NameTaken
     * @throws DestinationUnwritable
     * @throws DriveGone
     */
    private function bring(FiledFile $file, FilePlaces $places): void
    {
        $heading = $file->heading() ?? throw new \LogicException('It is not on its way.');
        $to = $file->movesTo();
        $stamps = $lie = $kept = [];
        if (Whereabouts::Forgotten !== $heading) {
            if (!$places->areConnected()) {
                throw DriveGone::from($places->shelf.'/'.$file->path());
            }
            foreach ($places->roots as $root) {
                if (null === $to) {
                    $kept = [...$kept, ...$this->delete($file, $root)];
                } elseif (null !== $stamp = $this->move($file, $root, $to, $places)) {
                    $stamps[$root] = $stamp;
                }
                if (Whereabouts::InShoot !== $file->whereabouts()) {
                    FileMove::tidy(\dirname($root.'/'.$file->path()), $root);
                }
                $lie[] = $root;
            }
        }
        $this->files->change($file->id(), function (FiledFile $now) use ($heading, $stamps, $lie, $kept): void {
            $from = $now->path();
            $now->moved();
            $this->copies->moved($now->id(), $stamps);
            if (Whereabouts::Deleted === $heading) {
                $this->copies->deleted($now->id());
            }
            $this->ledger->write('file_'.$heading->act(), [
                'file' => $now->id(), 'intake' => $now->intake(), 'from' => $now->originalPath(), 'before' => $from,
                'to' => $now->path(), 'places' => $lie, 'digest' => $now->content()->digest->labelled(),
            ] + ([] === $kept ? [] : ['kept' => $kept]));
        });
    }

    /**
     * @return array{string, string}|null stamps of the copy before and after; null where it was moved before, is
     *     missing, or was written into meanwhile
     *
     * @throws TransferFailure
     */
    private function move(FiledFile $file, string $root, string $to, FilePlaces $places): ?array
    {
        [$from, $target] = [$root.'/'.$file->path(), $root.'/'.$to];
        $ground = $places->drives->grounds([$root => $target])[$target];
        $before = FileStamp::of($from);
        FileMove::on($from, $target, $ground);
        foreach ($this->sidecars($file, $root) as $sidecar) {
            $beside = AsideFolder::sidecar($sidecar, $file->path(), $to);
            if ($sidecar === $file->sidecarPath()) {
                FileMove::on($root.'/'.$sidecar, $root.'/'.$beside, $ground);
            } elseif (!file_exists($root.'/'.$beside)) { // another program's comes along where there is room for it
                FileMove::on($root.'/'.$sidecar, $root.'/'.$beside, $ground);
            }
        }
        $after = FileStamp::of($target);

        // what was written into it in this very moment was not verified
        return null === $before || $before->bytes !== $after?->bytes || $before->modifiedAt !== $after->modifiedAt
            ? null
            : [$before->text(), $after->text()];
    }

    /**
     * Deletes the copy in one place, where it is what the ledger has.
     *
     * @return list<string> absolute paths of files that are something else, and stay
     */
    private function delete(FiledFile $file, string $root): array
    {
        $kept = [];
        $ours = [[$file->path(), $file->content()->digest]];
        if (null !== $file->sidecar()) {
            $ours[] = [(string) $file->sidecarPath(), $file->sidecar()->digest];
        }
        foreach ($ours as [$path, $digest]) {
            $kept = [...$kept, ...self::unlink($root.'/'.$path, $digest)];
        }
        SyncedFolder::sync(\dirname($root.'/'.$file->path()));

        return $kept;
    }

    /** @return list<string> the path, where it stays */
    private static function unlink(string $path, Digest $digest): array
    {
        return !is_file($path) || ($digest->isOfFile($path) && @unlink($path)) ? [] : [$path];
    }

    /** @return list<string> that go with a file, relative to the place: ours and those of other programs */
    private function sidecars(FiledFile $file, string $root): array
    {
        $sidecars = null === $file->sidecarPath() ? [] : [$file->sidecarPath()];
        $stem = preg_replace('/\.[^.\/]*$/', '', $file->path()) ?? $file->path();
        foreach (SidecarName::cases() as $naming) {
            $path = $naming->of($file->path());
            if (
                !\in_array($path, [...$sidecars, $file->path()], true) && is_file($root.'/'.$path)
                && !$this->frames->isSidecarOfAnother($file->id(), $file->frame(), $file->shelf(), $path, $stem)
            ) {
                $sidecars[] = $path;
            }
        }

        return $sidecars;
    }
}
