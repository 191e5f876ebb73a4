<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Copy\DestinationUnwritable;
use Velvet\Core\Copy\DriveFull;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\Repair;
use Velvet\Server\Store\ClaimedFile;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeStates;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Store\Transfers;
use Velvet\Server\Work\Backup\KeepBackup;
use Velvet\Server\Work\Dng\Conversions;
use Velvet\Server\Work\Metadata\MetadataWriting;
use Velvet\Server\Work\Receipts\Manifests;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Copies an intake's files, one after another, until none is left, the intake is paused or stopped, or the program
 * ends. Several workers may be at one intake. Begun again it goes on where it was: a file is filed, failed, or still to
 * do.
 */
final readonly class IntakeRun
{
    private const POLL = 20_000; // microseconds between looks at what is being converted

    public function __construct(
        private EntityManagerInterface $entities,
        private Transaction $transaction,
        private IntakeWork $work,
        private VerifiedCopy $copy,
        private Transfers $transfers,
        private IntakeStates $states,
        private Filing $filing,
        private Halts $halts,
        private Sweeping $sweeping,
        private Locks $locks,
        private Manifests $manifests,
        private Ledger $ledger,
        private Happenings $happenings,
        private ClockInterface $clock,
        private Sheets $sheets,
        private MetadataWriting $metadata,
        private Conversions $conversions,
        private DriveTable $table,
        private FiledFiles $files,
        private MessageBusInterface $bus,
    ) {
    }

    /** @param \Closure(string): void|null $onFile told of each file before it is copied */
    public function run(int $intakeId, OnFailure $onFailure, ?\Closure $onFile = null): void
    {
        // tells that somebody is at work on it; let go of when the process or its connection dies
        $this->locks->share(Lock::Intake, $intakeId);
        try {
            if (!$this->states->begun($intakeId)) {
                return;
            }
            $this->entities->clear();
            $this->files($intakeId, $onFailure, $onFile);
            $this->halts->wentOn($intakeId);
        } catch (\Throwable $e) {
            $this->halts->stumbled($intakeId, $e);
            throw $e;
        } finally {
            $this->conversions->stop();
            $this->entities->clear();
            $this->locks->releaseShare(Lock::Intake, $intakeId);
            $this->sweeping->ifOver($intakeId);
        }
    }

    /** @param \Closure(string): void|null $onFile */
    private function files(int $intakeId, OnFailure $onFailure, ?\Closure $onFile): void
    {
        $intake = $this->entities->find(Intake::class, $intakeId) ?? throw new \LogicException('The intake is gone.');
        $this->tell($intakeId);
        $since = microtime(true);
        while ($this->work->isRunning($intakeId)) {
            // what is filed is converted and gets its metadata as the others come: one of each for one copy
            $converted = $this->conversions->step($intake);
            $written = $converted instanceof Halt ? $converted : $this->metadata->next($intake);
            if ($written instanceof Halt) {
                $this->halts->pause($intake, $written);

                return;
            }
            $claimed = $this->transfers->claim($intakeId);
            if (null === $claimed) {
                if ($written || true === $converted) {
                    $since = $this->worked($intakeId, $since);
                    continue;
                }
                if ($this->conversions->areUnderWay()) {
                    usleep(self::POLL);
                    continue;
                }
                $this->finish($intake);

                return;
            }
            try {
                if (null !== $onFile) {
                    $onFile($claimed->transfer()->source());
                }
                $goesOn = $this->file($intake, $claimed, $onFailure);
            } catch (\Throwable $e) {
                $this->transfers->giveBack($claimed);
                throw $e;
            }
            $since = $this->worked($intakeId, $since);
            $this->tell($intakeId);
            if (!$goesOn) {
                return;
            }
        }
    }

    /** One file, from the card to its last destination and into the ledger. False when the intake cannot go on. */
    private function file(Intake $intake, ClaimedFile $claimed, OnFailure $onFailure): bool
    {
        $transfer = $claimed->transfer();
        $watch = new FileWatch($this->locks, $this->transfers, $this->happenings, $claimed);
        try {
            $missing = $this->halts->missing($intake, $claimed->card);
            if (null !== $missing && OnFailure::KeepGoing !== $onFailure) {
                return $this->halt($intake, $claimed, $missing);
            }
            if ($transfer->equals()) {
                $this->compare($intake, $claimed, $watch);
            } else {
                if ($this->filing->isNameGiven($intake, $transfer)) {
                    throw NameTaken::by($intake->shelf()->root.'/'.$transfer->target());
                }
                [$roots, $drives] = $this->destinations($intake, $transfer);
                $stamp = self::stamp($claimed);
                $digests = $this->copy->copy($this->toCopy($intake, $claimed, $roots, $drives), $watch);
                $this->filing->filed($intake, $claimed, $digests, $roots, $stamp);
            }
        } catch (TransferFailure $e) {
            $trouble = $this->halts->missing($intake, $claimed->card)
                ?? ($e instanceof DriveFull ? new Halt($e->getMessage()) : null);
            if (null !== $trouble && OnFailure::KeepGoing !== $onFailure) {
                return $this->halt($intake, $claimed, $trouble);
            }
            if (FileStep::Planned === FileStep::afterFailure($e, $transfer->tries())) {
                $this->transfers->step($claimed, static fn (Transfer $now) => $now->putBack());
            } else {
                $this->filing->failed($claimed, $e->getMessage());
                if ($e instanceof DestinationUnwritable && OnFailure::Pause === $onFailure) {
                    $this->halts->pause($intake, new Halt($e->getMessage()));

                    return false;
                }
            }
        } finally {
            $watch->letGo();
        }

        return true;
    }

    /**
     * @param non-empty-list<string> $roots of the places that it goes to
     *
     * @throws DriveGone
     */
    private function toCopy(Intake $intake, ClaimedFile $claimed, array $roots, Drives $drives): FileToCopy
    {
        $transfer = $claimed->transfer();
        $targets = array_map(static fn (string $root): string => $root.'/'.$transfer->target(), $roots);

        return new FileToCopy(
            $claimed->path(),
            $transfer->bytes(),
            $transfer->modifiedAt(),
            $targets,
            \sprintf('%s%d-%d', Sweeping::token($intake->id()), $transfer->id(), $transfer->tries()),
            $this->sheets->styleOf($intake)->copies->second,
            null !== $transfer->repairs(),
            $drives->grounds(array_combine($roots, $targets)),
            null,
            $transfer->fingerprint(),
        );
    }

    /** A file that seems to be on the sheet twice is read to its end: nothing is skipped on a guess. */
    private function compare(Intake $intake, ClaimedFile $claimed, FileWatch $watch): void
    {
        $first = $this->transfers->equalTo($claimed->transfer());
        if (null === $first) {
            $this->filing->takesItsPlace($claimed);

            return;
        }
        $stamp = self::stamp($claimed);
        $digests = $this->copy->digests(
            $this->toCopy($intake, $claimed, $intake->shelf()->roots(), $this->halts->drives($intake)),
            $watch,
        );
        if (true === $first->digest()?->equals($digests->content)) {
            $this->filing->same($claimed, $digests, $first, $stamp);
        } else {
            $this->filing->failed($claimed, \sprintf(
                '%s looked the same as %s, but is not. It was not copied and stays on the card; open a sheet for the '
                    .'card again to give it a name of its own.',
                basename($claimed->transfer()->source()),
                basename($first->source()),
            ));
        }
    }

    private static function stamp(ClaimedFile $claimed): string
    {
        return FileStamp::of($claimed->path())?->text() ?? '';
    }

    /**
     * Where a file goes. A repair goes to its own shelf's drives, whatever the sheet's shelf is, and only to those that
     * are connected: what cannot be reached is not repaired.
     *
     * @return array{non-empty-list<string>, Drives}
     *
     * @throws DriveGone
     */
    private function destinations(Intake $intake, Transfer $transfer): array
    {
        $repairs = $transfer->repairs();
        if (null === $repairs) {
            return [$intake->shelf()->roots(), $this->halts->drives($intake)];
        }
        $file = $this->files->get($repairs);
        $shelf = $this->entities->find(Shelf::class, $file->shelf()) ?? throw new \LogicException('The shelf is gone.');
        $drives = $shelf->drives($this->table);
        $roots = Repair::roots($file, array_values(array_filter($shelf->roots(), $drives->has(...))));

        return [[] === $roots ? throw DriveGone::from($shelf->root.'/'.$file->path()) : $roots, $drives];
    }

    private function halt(Intake $intake, ClaimedFile $claimed, Halt $halt): bool
    {
        $this->transfers->step($claimed, static fn (Transfer $now) => $now->halted());
        $this->halts->pause($intake, $halt);

        return false;
    }

    /** Whoever finds that nothing is left to do by anybody closes the intake. */
    private function finish(Intake $intake): void
    {
        if (!$this->transfers->areAllDone($intake->id())) {
            return; // another worker is at the last files
        }
        $closed = $this->transaction->of(function () use ($intake): bool {
            if (!$this->states->done($intake->id(), $this->clock->now())) {
                return false;
            }
            $seal = $this->ledger->write(
                'intake_done',
                ['intake' => $intake->id()] + $this->transfers->outcome($intake->id()),
            );
            $this->states->sealed($intake->id(), $seal);

            return true;
        });
        if ($closed) {
            $this->manifests->write($intake);
            $this->bus->dispatch(new KeepBackup());
            $this->tell($intake->id());
            $this->happenings->tell('bays', []);
        }
    }

    /**
     * Counts the seconds of work since a moment; of several workers who are at it each counts its share of them, so
     * that they add up to the time that passed.
     *
     * @return float this moment
     */
    private function worked(int $intakeId, float $since): float
    {
        $now = microtime(true);
        $share = ($now - $since) / max(1, $this->locks->holders(Lock::Intake, $intakeId));
        $this->work->worked($intakeId, $share);

        return $now;
    }

    private function tell(int $intakeId): void
    {
        $this->happenings->tell('intake', ['id' => $intakeId, 'target' => null, 'bytes_within' => 0]);
    }
}
