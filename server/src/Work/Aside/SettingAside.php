<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Filed\AsideFolder;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FilePlaces;
use Velvet\Core\Filed\Whereabouts;
use Velvet\Core\Shoot\Day;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\MetadataSteps;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Store\Transaction;

/**
 * Sets the struck frames of a shoot aside, brings frames back, throws them away, deletes and forgets them. What is to
 * become of each is set down at once for all; the files follow, also after a crash.
 */
final readonly class SettingAside
{
    public function __construct(
        private Transaction $transaction,
        private EntityManagerInterface $entities,
        private AsideFrames $frames,
        private FiledFiles $files,
        private MetadataSteps $steps,
        private Ledger $ledger,
        private MessageBusInterface $bus,
        private Happenings $happenings,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param list<int>|null $frames   that are meant; null: all that can become that, of the shoot's own the struck
     * @param int|null       $expected how many of their files somebody was told of; null: nobody was
     *
     * @throws AsideRefused
     */
    public function act(int $shoot, Whereabouts $to, ?array $frames = null, ?int $expected = null): AsideDone
    {
        $done = $this->transaction->of(function () use ($shoot, $to, $frames, $expected): AsideDone {
            $this->steps->takeTurn($shoot);
            $meant = $this->meant($shoot, $to, $frames);
            $byFrame = $this->frames->files($meant);
            $files = [];
            foreach ($this->files->many(array_merge([], ...array_values($byFrame))) as $file) {
                $files[$file->id()] = $file;
            }
            [$free, $left] = $this->free($byFrame, $files, $to);
            $moved = array_values(array_intersect_key($files, array_fill_keys(array_merge(
                [],
                ...array_values(array_intersect_key($byFrame, array_flip($free))),
            ), true)));
            if ([] === $moved) {
                throw AsideRefused::nothing(self::nothing($to, $left));
            }
            $ids = array_map(static fn (FiledFile $file): int => $file->id(), $moved);
            $sum = $this->frames->sum($ids);
            if (null !== $expected && $expected !== $sum['files']) {
                throw AsideRefused::othersNow(\count($free), $sum['files']);
            }
            $this->ask($moved, $this->files->placesOf($moved), $to, $this->folder($shoot));
            $this->frames->keep($free, $to);
            $this->ledger->write(
                $to->act(),
                ['shoot' => $shoot, 'frames' => \count($free), 'files' => $sum['files'], 'bytes' => $sum['bytes']],
            );
            $this->happenings->tell('shoot', ['id' => $shoot]);

            return new AsideDone(\count($free), $sum['files'], $sum['bytes'], $left);
        });
        $this->bus->dispatch(new MoveFiles());

        return $done;
    }

    /**
     * @param list<int>|null $frames
     *
     * @return list<int>
     */
    private function meant(int $shoot, Whereabouts $to, ?array $frames): array
    {
        $meant = [];
        foreach (Whereabouts::cases() as $from) {
            if ($from->mayBecome($to)) {
                $struck = Whereabouts::InShoot === $from;
                $meant[] = $this->frames->toChange($shoot, $from, $struck, $frames);
            }
        }

        return array_merge(...$meant);
    }

    /**
     * Frames of which no file has anything else under way.
     *
     * @param array<int, non-empty-list<int>> $byFrame ids of files
     * @param array<int, FiledFile>           $files   by their ids
     *
     * @return array{list<int>, list<string>} and sentences on the others
     */
    private function free(array $byFrame, array $files, Whereabouts $to): array
    {
        $busy = array_flip($this->frames->beingTakenIn(array_keys($byFrame)));
        $free = [];
        $takenIn = $changed = $underWay = 0;
        foreach ($byFrame as $frame => $ids) {
            $all = array_map(static fn (int $id): FiledFile => $files[$id], $ids);
            if (isset($busy[$frame])) {
                ++$takenIn;
            } elseif ([] !== array_filter($all, static fn (FiledFile $file): bool => null !== $file->outside())) {
                ++$changed;
            } elseif ([] !== array_filter($all, static fn (FiledFile $file): bool => !$file->mayMove($to))) {
                ++$underWay;
            } else {
                $free[] = $frame;
            }
        }

        return [$free, array_values(array_filter([
            self::left($takenIn, 'whose intake is still under way'),
            self::left($changed, 'whose files another program changed; choose in the shoot whose version stays'),
            self::left($underWay, 'whose files are being moved or converted'),
        ], is_string(...)))];
    }

    private static function left(int $frames, string $why): ?string
    {
        return 0 === $frames
            ? null
            : \sprintf('Left in place: %d %s %s.', $frames, 1 === $frames ? 'frame' : 'frames', $why);
    }

    /** @param list<string> $left */
    private static function nothing(Whereabouts $to, array $left): string
    {
        return [] !== $left ? implode(' ', $left) : match ($to) {
            Whereabouts::SetAside => 'No frame of this shoot is struck, so there is none to set aside.',
            Whereabouts::InShoot => 'None of these frames is set aside, so there is none to bring back.',
            Whereabouts::InTrash, Whereabouts::Forgotten => 'No frame of this shoot is set aside.',
            Whereabouts::Deleted => 'No frame of this shoot is in the trash.',
        };
    }

    /**
     * @param list<FiledFile>        $files
     * @param array<int, FilePlaces> $places by the file's id
     *
     * @throws AsideRefused when a place of theirs is not connected
     */
    private function ask(array $files, array $places, Whereabouts $to, string $folder): void
    {
        $targets = [];
        foreach ($files as $file) {
            $away = array_diff($places[$file->id()]->roots, $places[$file->id()]->connected);
            if (Whereabouts::Forgotten !== $to && [] !== $away) {
                throw AsideRefused::notConnected(reset($away));
            }
            $target = match ($to) {
                Whereabouts::SetAside => AsideFolder::path($folder, $file->path()),
                Whereabouts::InTrash => AsideFolder::inTrash($this->today(), $file->path()),
                Whereabouts::InShoot => $file->homePath(),
                Whereabouts::Deleted, Whereabouts::Forgotten => null,
            };
            if (null !== $target) {
                $targets[$file->id()] = $target;
            }
        }
        $targets = $this->freePaths($files, $places, $targets, Whereabouts::InShoot === $to);
        $this->files->changeAll(
            array_map(static fn (FiledFile $file): int => $file->id(), $files),
            static fn (FiledFile $now) => $now->moveAsked($to, $targets[$now->id()] ?? null),
        );
    }

    /**
     * The paths that files are to have, or others beside them where a name is taken.
     *
     * @param list<FiledFile>        $files
     * @param array<int, FilePlaces> $places  by the file's id
     * @param array<int, string>     $targets by the file's id, relative to the shelf
     * @param bool                   $areTheirs whether the ledger keeps these paths for them
     *
     * @return array<int, string>
     */
    private function freePaths(array $files, array $places, array $targets, bool $areTheirs): array
    {
        $given = $areTheirs || [] === $targets
            ? []
            : $this->files->namesGiven($files[0]->shelf(), array_values($targets));
        $taken = [];
        foreach ($files as $file) {
            $wanted = $targets[$file->id()] ?? null;
            if (null === $wanted) {
                continue;
            }
            $path = $wanted;
            for ($n = 2; isset($taken[$path]) || $this->isTaken($file, $path, $places[$file->id()], $given); ++$n) {
                $path = AsideFolder::other($wanted, $n);
                $given += $areTheirs ? [] : $this->files->namesGiven($file->shelf(), [$path]);
            }
            $targets[$file->id()] = $path;
            $taken[$path] = true;
        }

        return $targets;
    }

    /** @param array<string, true> $given paths that the ledger has given to a file */
    private function isTaken(FiledFile $file, string $path, FilePlaces $places, array $given): bool
    {
        $sidecar = $file->sidecarPath();
        $paths = [$path, ...(null === $sidecar ? [] : [AsideFolder::sidecar($sidecar, $file->path(), $path)])];
        foreach ($places->connected as $root) {
            foreach ($paths as $one) {
                if (file_exists($root.'/'.$one) || is_link($root.'/'.$one)) {
                    return true;
                }
            }
        }

        return isset($given[$path]);
    }

    private function folder(int $shoot): string
    {
        return ($this->entities->find(Shoot::class, $shoot) ?? throw new \LogicException('The shoot is gone.'))->folder;
    }

    private function today(): Day
    {
        return Day::fromText($this->clock->now()->format('Y-m-d'));
    }
}
