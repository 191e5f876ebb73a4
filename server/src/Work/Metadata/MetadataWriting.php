<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\DriveFull;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\CopiesToWrite;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FiledWriting;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Work\Halts\Halt;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Halts\Sweeping;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Writes what frames say into the copies of their files. The digest of the new content is set down before it takes its
 * place, so that after a crash it is known which of the copies is already new. What fails leaves the file as it was,
 * with the reason.
 */
final readonly class MetadataWriting
{
    private const CANDIDATES = 20;
    /** How often a file is tried whose drive refuses it, before that is set down. */
    private const MOST_TRIES = 3;

    public function __construct(
        private EntityManagerInterface $entities,
        private Locks $locks,
        private FiledWriting $writing,
        private FrameMetadata $says,
        private OutsideChanges $outside,
        private Ledger $ledger,
        private Halts $halts,
        private LoggerInterface $logger,
        private Sheets $sheets,
        private ClockInterface $clock,
        private FiledCopies $copies,
        private FiledFiles $files,
    ) {
    }

    /**
     * Writes into the copies of one file that an intake filed. @return bool|Halt false where nothing waits for it; a
     * halt where the intake cannot go on.
     */
    public function next(Intake $intake): bool|Halt
    {
        return $this->first($this->files->toBeWritten($intake->id(), 0, self::CANDIDATES), $intake);
    }

    /**
     * Writes into the copies of one file whose intake is over. @return bool false where nothing more can be done now.
     */
    public function nextAnywhere(): bool
    {
        $after = 0;
        do {
            $waiting = $this->files->toBeWritten(null, $after, self::CANDIDATES);
            if (true === $this->first($waiting, null)) {
                return true;
            }
            $after = [] === $waiting ? 0 : $waiting[\count($waiting) - 1];
        } while ($after > 0); // those of drives that are away are passed over

        return false;
    }

    /** @param list<int> $waiting */
    private function first(array $waiting, ?Intake $intake): bool|Halt
    {
        foreach ($waiting as $id) {
            if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
                continue; // another worker is at it
            }
            try {
                $file = $this->files->find($id);
                if (true !== $file?->isToBeWritten() || $this->write($intake, $file)) {
                    return true;
                }
            } catch (MetadataRefused $e) {
                $this->sayBeside($id, $e->getMessage()) || $this->refused($id, $e->getMessage());

                return true;
            } catch (TransferFailure $e) {
                if (null === $intake && ($e instanceof DriveGone || $e instanceof DriveFull)) {
                    continue; // it waits until there is room, or the drive is there again
                }
                $halt = null === $intake ? null : $this->halt($intake, $id, $e);
                if (null !== $halt) {
                    return $halt;
                }
                if ((!$e instanceof NameTaken || !$this->outside->lookAtFile($id)) && !$this->isHalfWay($id, $e)) {
                    $this->refused($id, $e->getMessage());
                }

                return true;
            } finally {
                $this->locks->release(Lock::FiledFile, $id);
            }
        }

        return false;
    }

    private function halt(Intake $intake, int $file, TransferFailure $e): ?Halt
    {
        $card = $this->files->card($file);

        return (null === $card ? null : $this->halts->missing($intake, $card))
            ?? ($e instanceof DriveFull || $e instanceof DriveGone ? new Halt($e->getMessage()) : null);
    }

    /**
     * Whether the new content took its place on some drives and not on others: it is tried again, and after some tries
     * the ledger has what the files are, and the copies that stayed behind are damaged ones. Never is it said that such
     * a file stayed as it was.
     */
    private function isHalfWay(int $id, TransferFailure $e): bool
    {
        $file = $this->files->get($id);
        $new = $file->writing();
        if (null === $new) {
            return false;
        }
        $target = $this->target($file, $this->filedBy($file));
        $roots = array_values(
            array_filter(
                $target->places->connected,
                static fn (string $root): bool => $new->digest->isOfFile($root.'/'.$target->path),
            ),
        );
        if ([] === $roots) {
            $this->files->change($id, static fn (FiledFile $file) => $file->writingUndone());

            return false;
        }
        $tries = $this->files->change($id, static fn (FiledFile $file): int => $file->writingStuck());
        if ($tries >= self::MOST_TRIES) {
            $behind = array_values(array_diff($target->places->connected, $roots));
            $why = \sprintf(
                '%s has its metadata in “%s”; in “%s” the old file is still there: %s',
                basename($target->path),
                implode('”, “', $roots),
                implode('”, “', $behind),
                $e->getMessage(),
            );
            $this->written($id, $target, $this->clock->now()->getTimestamp(), $why, $roots);
        }

        return true;
    }

    /**
     * @return bool false where a drive is not connected
     *
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    private function write(?Intake $intake, FiledFile $file): bool
    {
        $filedBy = $intake ?? $this->filedBy($file);
        $target = $this->target($file, $filedBy);
        $paths = $target->paths();
        if ([] === $paths || !$target->places->areConnected()) {
            if (null === $intake) {
                return false;
            }
            throw DriveGone::from($target->places->roots[0].'/'.$target->path);
        }
        $now = $this->clock->now();
        // editors see by its time that a file changed; what is written while it is filed keeps the time of the shot
        $modifiedAt = null === $intake ? $now->getTimestamp() : $file->modifiedAt() ?? $now->getTimestamp();
        $copies = new CopiesToWrite(
            $paths,
            $target->content?->digest,
            $modifiedAt,
            \sprintf('%sm%d', Sweeping::token($filedBy->id()), $file->id()),
            $target->grounds(),
            $target->isSidecar ? null : $this->sheets->styleOf($filedBy)->copies->second,
        );
        if (null !== $begun = $file->writing()) {
            $this->goOn($file, $target, $copies, $begun->digest);

            return true;
        }
        $metadata = $this->says->of($file);
        $history = History::of(
            null === $intake ? $now : $intake->startedAt ?? $intake->openedAt,
            $file->clock(),
        );
        $prepared = null === $target->content
            ? $this->writing->prepareSidecar($copies, $metadata, $history, $target->packetOfPicture())
            : $this->writing->prepare($target->kind, $copies, $metadata, $history);
        $new = Content::of($prepared->new, $prepared->bytes);
        try {
            $this->files->change(
                $file->id(),
                static fn (FiledFile $now) => $now->writingBegan($file->wanted(), $new),
            );
            $prepared->takePlace();
        } catch (NameTaken $e) {
            // nothing took its place: what is there is not what the ledger has
            $this->files->change($file->id(), static fn (FiledFile $now) => $now->writingUndone());
            throw $e;
        } finally {
            $prepared->discard();
        }
        $this->written($file->id(), $target, $modifiedAt, implode(' ', $prepared->notes));

        return true;
    }

    /**
     * After a crash: copies that have the old content get the new one from a copy that has it; where none has, all
     * begins anew.
     *
     * @throws TransferFailure
     */
    private function goOn(FiledFile $file, MetadataTarget $target, CopiesToWrite $copies, Digest $new): void
    {
        $isNew = array_map($new->isOfFile(...), $copies->paths);
        $from = array_search(true, $isNew, true);
        if (false === $from) {
            $this->files->change($file->id(), static fn (FiledFile $now) => $now->writingUndone());

            return;
        }
        foreach ($copies->paths as $i => $path) {
            if (!$isNew[$i]) {
                $this->writing->handOver($copies->paths[$from], $copies->at($path), $new);
            }
        }
        $this->written($file->id(), $target, $copies->modifiedAt, '');
    }

    /** @param list<string>|null $roots the places that have it; null: all */
    private function written(int $id, MetadataTarget $target, int $modifiedAt, string $note, ?array $roots = null): void
    {
        $roots ??= $target->places->connected;
        $this->files->change($id, function (FiledFile $file) use ($id, $target, $modifiedAt, $note, $roots): void {
            $new = $file->writing() ?? throw new \LogicException('Nothing was begun.');
            if ($target->isSidecar) {
                $file->sidecarWritten($target->path, $modifiedAt, $note);
            } else {
                $file->written($modifiedAt, $note);
                $shelf = $file->shelf();
                $this->copies->allVerified($id, $shelf, $roots, $target->path, $new->digest, $new->bytes);
                foreach (array_diff($target->places->connected, $roots) as $behind) {
                    $this->copies->foundAt($id, $shelf, $behind, $target->path, CopyStanding::Changed);
                }
            }
            $this->ledger->write($target->isSidecar ? 'sidecar_written' : 'metadata_written', [
                'file' => $id, 'intake' => $file->intake(), 'from' => $file->originalPath(),
                'to' => $target->path, 'places' => $roots,
                'received' => $file->received()->digest->labelled(),
                'before' => $target->content?->digest->labelled(), 'digest' => $new->digest->labelled(),
            ]);
        });
    }

    /** @return bool false where the file was written into before: its words stay where they are then */
    private function sayBeside(int $id, string $why): bool
    {
        return $this->files->change($id, static function (FiledFile $file) use ($why): bool {
            if ($file->isWrittenInto() || $file->isSaidBeside() || FileKind::Sidecar === $file->kind()) {
                return false;
            }
            $file->sayBeside(\sprintf(
                '%s was filed as it was received: %s. What is said of it is in a sidecar, %s.',
                basename($file->originalPath()),
                rtrim($why, '.'),
                basename(SidecarName::Whole->of($file->path())),
            ));

            return true;
        });
    }

    private function refused(int $id, string $why): true
    {
        $sentence = $this->files->change($id, function (FiledFile $file) use ($id, $why): string {
            $isFirst = null === $file->changed() && null === $file->sidecar();
            $sentence = \sprintf(
                $isFirst ? '%s was filed as it was received, without metadata: %s.' : '%s stays as it was: %s.',
                $isFirst ? basename($file->originalPath()) : $file->name(),
                rtrim($why, '.'),
            );
            $file->writingRefused($sentence);
            $this->ledger->write(
                'metadata_refused',
                [
                    'file' => $id,
                    'intake' => $file->intake(),
                    'from' => $file->originalPath(),
                    'why' => $sentence,
                ],
            );

            return $sentence;
        });
        $this->logger->warning('Metadata not written: {why}', ['why' => $sentence]);

        return true;
    }

    private function filedBy(FiledFile $file): Intake
    {
        return $this->entities->find(Intake::class, $file->intake())
            ?? throw new \LogicException('The intake is gone.');
    }

    private function target(FiledFile $file, Intake $filedBy): MetadataTarget
    {
        $naming = $this->sheets->styleOf($filedBy)->metadata->sidecars;

        return MetadataTarget::of($file, $this->files->places($file), $naming);
    }
}
