<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Copy\DamagedCopy;
use Velvet\Core\Copy\DestinationUnwritable;
use Velvet\Core\Copy\DriveFull;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\SourceChanged;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Filed\Repair;
use Velvet\Core\Metadata\SidecarFile;
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
use Velvet\Server\Work\Halts\Halt;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Halts\Sweeping;
use Velvet\Server\Work\Metadata\FrameMetadata;
use Velvet\Server\Work\Metadata\MetadataWriting;
use Velvet\Server\Work\Metadata\WordsOnTheWay;
use Velvet\Server\Work\Receipts\Manifests;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Copies an intake's files, some of them together, until none is left, the intake is paused or stopped, or the program
 * ends. Several workers may be at one intake. Begun again it goes on where it was: a file is filed, failed, or still to
 * do.
 */
final readonly class IntakeRun
{
    private const POLL = 20_000; // microseconds between looks at what others are choosing from
    private const WRITTEN_TOGETHER = 64;

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
        private FrameMetadata $says,
        private Conversions $conversions,
        private DriveTable $table,
        private FiledFiles $files,
        private MessageBusInterface $bus,
        private CopyProgress $progress,
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
        $this->tellState($intake);
        $since = microtime(true);
        while ($this->work->isRunning($intakeId)) {
            // what is filed is converted and gets its metadata as the others come: one of each for one copy
            $converted = $this->conversions->step($intake);
            $written = $converted instanceof Halt ? $converted : $this->write($intake);
            if ($written instanceof Halt) {
                $this->halts->pause($intake, $written);

                return;
            }
            $claimed = $this->transfers->claim($intakeId);
            if ([] === $claimed) {
                if ($written || true === $converted) {
                    $since = $this->worked($intakeId, $since);
                    continue;
                }
                if ($this->conversions->areUnderWay()) {
                    $this->conversions->await();
                    continue;
                }
                // what another worker was just choosing from was passed over, and is free again
                if ($this->transfers->isAnyFree($intakeId)) {
                    usleep(self::POLL);
                    continue;
                }
                $this->finish($intake);

                return;
            }
            $this->progress->tell($intake);
            try {
                $goesOn = $this->claimed($intake, $claimed, $onFailure, $onFile);
            } catch (\Throwable $e) {
                $this->transfers->giveBack($claimed);
                throw $e;
            }
            $since = $this->worked($intakeId, $since);
            if (!$goesOn) {
                return;
            }
        }
        // paused or stopped meanwhile; what was in hand then is done now
        $this->entities->refresh($intake);
        $this->tellState($intake);
    }

    /** Writes into what is filed and waits for it: about as many files as are copied together. */
    private function write(Intake $intake): bool|Halt
    {
        for ($n = 0; $n < self::WRITTEN_TOGETHER; ++$n) {
            $written = $this->metadata->next($intake);
            if (true !== $written) {
                return $written instanceof Halt ? $written : $n > 0;
            }
        }

        return true;
    }

    /**
     * Files of one card, to their last destination and into the ledger. False when the intake cannot go on.
     *
     * @param non-empty-list<ClaimedFile> $claimed
     * @param \Closure(string): void|null $onFile
     */
    private function claimed(Intake $intake, array $claimed, OnFailure $onFailure, ?\Closure $onFile): bool
    {
        $missing = $this->halts->missing($intake, $claimed[0]->card);
        if (null !== $missing && OnFailure::KeepGoing !== $onFailure) {
            return $this->halt($intake, $claimed, $missing);
        }
        $new = $others = [];
        foreach ($claimed as $one) {
            if ($one->transfer()->equals() || null !== $one->transfer()->repairs()) {
                $others[] = $one;
            } else {
                $new[] = $one;
            }
        }
        $failures = [] === $new ? [] : $this->copyNew($intake, $new, $onFile);
        foreach ($others as $one) {
            $failures = [...$failures, ...$this->other($intake, $one, $onFile)];
        }

        return [] === $failures || $this->failed($intake, $claimed, $failures, $onFailure);
    }

    /**
     * @param non-empty-list<ClaimedFile> $claimed
     * @param \Closure(string): void|null $onFile
     *
     * @return list<array{ClaimedFile, TransferFailure}> those that are not filed
     */
    private function copyNew(Intake $intake, array $claimed, ?\Closure $onFile): array
    {
        $given = $this->filing->namesGiven($intake, $claimed);
        $failures = $free = [];
        foreach ($claimed as $one) {
            if (isset($given[$one->transfer()->target()])) {
                $failures[] = [$one, NameTaken::by($intake->shelf()->root.'/'.$one->transfer()->target())];
            } else {
                $free[] = $one;
            }
        }
        if ([] === $free) {
            return $failures;
        }
        $words = $this->says->onTheWay($intake, array_map(
            static fn (ClaimedFile $one): Transfer => $one->transfer(),
            $free,
        ));
        $roots = $intake->shelf()->roots();
        $watch = new FileWatch($this->locks, $this->transfers, $this->happenings, $free, $onFile);
        try {
            $drives = $this->halts->drives($intake);
            $grounds = array_values($drives->grounds(array_combine($roots, $roots)));
            $files = array_map(
                fn (ClaimedFile $one): FileToCopy => $this->toCopy($intake, $one, $roots, $grounds, $words),
                $free,
            );
            $stamps = array_map(self::stamp(...), $free);
            $outcomes = $this->copy->copyAll($files, $watch);
            $copied = [];
            foreach ($outcomes as $i => $outcome) {
                if ($outcome instanceof TransferFailure) {
                    $failures[] = [$free[$i], $outcome];
                    continue;
                }
                $placed = array_map(
                    static fn (string $path): ?string => FileStamp::of($path)?->text(),
                    $files[$i]->targets,
                );
                $gone = array_search(null, $placed, true);
                if (false === $gone) {
                    $copied[] = new CopiedClaim($free[$i], $outcome, $stamps[$i], array_map(strval(...), $placed));
                } else {
                    $failures[] = [$free[$i], DriveGone::from($files[$i]->targets[$gone])];
                }
            }
            if ([] !== $copied) {
                try {
                    $this->filing->filed($intake, $copied, $drives, $words);
                } catch (DriveGone $e) {
                    foreach ($copied as $one) {
                        $failures[] = [$one->claimed, $e];
                    }
                }
            }
        } catch (TransferFailure $e) { // before the first of them was begun
            return array_map(static fn (ClaimedFile $one): array => [$one, $e], $claimed);
        } finally {
            $watch->letGo();
        }

        return $failures;
    }

    /**
     * A file that seems to be on the sheet twice, or that replaces a damaged copy.
     *
     * @param \Closure(string): void|null $onFile
     *
     * @return list<array{ClaimedFile, TransferFailure}> it, where it is not filed
     */
    private function other(Intake $intake, ClaimedFile $claimed, ?\Closure $onFile): array
    {
        $watch = new FileWatch($this->locks, $this->transfers, $this->happenings, [$claimed], $onFile);
        try {
            if ($claimed->transfer()->equals()) {
                $this->compare($intake, $claimed, $watch);
            } else {
                // nobody writes into a file while it is repaired
                $this->locks->with(
                    Lock::FiledFile,
                    $claimed->transfer()->repairs() ?? 0,
                    fn () => $this->repair($intake, $claimed, $watch),
                );
            }
        } catch (TransferFailure $e) {
            return [[$claimed, $e]];
        } finally {
            $watch->letGo();
        }

        return [];
    }

    /**
     * @param non-empty-list<ClaimedFile>                 $claimed  all of them, those that were filed, too
     * @param non-empty-list<array{ClaimedFile, TransferFailure}> $failures
     *
     * @return bool false when the intake cannot go on
     */
    private function failed(Intake $intake, array $claimed, array $failures, OnFailure $onFailure): bool
    {
        $trouble = $this->halts->missing($intake, $claimed[0]->card);
        foreach ($failures as [, $e]) {
            $trouble ??= $e instanceof DriveFull ? new Halt($e->getMessage()) : null;
        }
        if (null !== $trouble && OnFailure::KeepGoing !== $onFailure) {
            return $this->halt($intake, $claimed, $trouble);
        }
        $refused = null;
        foreach ($failures as [$one, $e]) {
            if (FileStep::Planned === FileStep::afterFailure($e, $one->transfer()->tries())) {
                $this->transfers->stepAll([$one], static fn (Transfer $now) => $now->putBack());
            } else {
                $this->filing->failed($one, $e->getMessage());
                $refused ??= $e instanceof DestinationUnwritable ? new Halt($e->getMessage()) : null;
            }
        }
        if (null !== $refused && OnFailure::Pause === $onFailure) {
            $this->halts->pause($intake, $refused);

            return false;
        }

        return true;
    }

    /**
     * @param non-empty-list<string> $roots   of the places that it goes to
     * @param list<Ground>           $grounds of the roots, where they are known
     */
    private function toCopy(
        Intake $intake,
        ClaimedFile $claimed,
        array $roots,
        array $grounds,
        ?WordsOnTheWay $words = null,
    ): FileToCopy {
        $transfer = $claimed->transfer();
        $targets = array_map(static fn (string $root): string => $root.'/'.$transfer->target(), $roots);
        $kind = null === $words ? null : MetadataTarget::kindOf([$claimed->path()], $transfer->kind());
        $kind = $kind instanceof SidecarFile ? null : $kind;
        // what did not come through the first time is copied as it is, and written into behind that
        $says = null !== $kind && 1 === $transfer->tries() && true === $transfer->words()?->wait();

        return new FileToCopy(
            $claimed->path(),
            $transfer->bytes(),
            $transfer->modifiedAt(),
            $targets,
            self::token($intake, $transfer),
            $this->sheets->styleOf($intake)->copies->second,
            false,
            [] === $grounds ? [] : array_combine($targets, $grounds),
            null,
            $transfer->fingerprint(),
            $kind,
            $says ? $words?->of($transfer, $kind) : null,
            $transfer->placing(),
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
            $this->toCopy($intake, $claimed, $intake->shelf()->roots(), []),
            $watch,
        );
        if (true === $first->digest()?->equals($digests->content)) {
            $filed = $first->filedFile() ?? throw new \LogicException('The other one is not filed.');
            $this->filing->same($claimed, $digests, $filed, $first->target(), $stamp);
        } else {
            $this->filing->failed($claimed, \sprintf(
                '%s looked the same as %s, but is not. It was not copied and stays on the card; open a sheet for the '
                    .'card again to give it a name of its own.',
                basename($claimed->transfer()->source()),
                basename($first->source()),
            ));
        }
    }

    private static function token(Intake $intake, Transfer $transfer): string
    {
        return \sprintf('%s%d-%d', Sweeping::token($intake->id()), $transfer->id(), $transfer->tries());
    }

    private static function stamp(ClaimedFile $claimed): string
    {
        return FileStamp::of($claimed->path())?->text() ?? '';
    }

    /**
     * A filed file's copies that are missing or damaged come anew: on its own shelf's drives, whatever the sheet's
     * shelf is, and only on those that are connected. Somebody may have put them right since the sheet was settled.
     *
     * @throws TransferFailure
     */
    private function repair(Intake $intake, ClaimedFile $claimed, FileWatch $watch): void
    {
        $file = $this->files->get($claimed->transfer()->repairs() ?? throw new \LogicException('It repairs nothing.'));
        $shelf = $this->entities->find(Shelf::class, $file->shelf()) ?? throw new \LogicException('The shelf is gone.');
        $drives = $shelf->drives($this->table);
        $connected = array_values(array_filter($shelf->roots(), $drives->has(...)));
        $repair = Repair::of($file, $shelf->roots(), $connected);
        if ([] === $connected || $repair->mustWait()) {
            $away = array_values(array_diff($shelf->roots(), $connected));
            throw DriveGone::from($away[0].'/'.$file->path());
        }
        $stamp = self::stamp($claimed);
        if ([] === $repair->roots) {
            $digests = $this->copy->digests($this->toCopy($intake, $claimed, $connected, []), $watch);
            if (!$digests->content->equals($file->received()->digest)) {
                throw SourceChanged::content($claimed->path());
            }
            $this->filing->same($claimed, $digests, $file->id(), $file->path(), $stamp);

            return;
        }
        foreach ($repair->isRawAgain ? $repair->roots : [] as $root) {
            if (is_file($root.'/'.$file->path())) {
                DamagedCopy::putAside($root.'/'.$file->path());
            }
        }
        $transfer = $claimed->transfer();
        $targets = array_map(static fn (string $root): string => $root.'/'.$repair->path, $repair->roots);
        $digests = $this->copy->copy(new FileToCopy(
            $claimed->path(),
            $transfer->bytes(),
            $transfer->modifiedAt(),
            $targets,
            self::token($intake, $transfer),
            $this->sheets->styleOf($intake)->copies->second,
            // the raw file's name may be another one's by now, which is no damaged copy of it
            !$repair->isRawAgain,
            $drives->grounds(array_combine($repair->roots, $targets)),
            $file->received()->digest,
            $transfer->fingerprint(),
            cutOff: $transfer->placing(),
        ), $watch);
        $this->filing->repaired($claimed, $digests, $repair, $stamp);
    }

    /** @param non-empty-list<ClaimedFile> $claimed */
    private function halt(Intake $intake, array $claimed, Halt $halt): bool
    {
        $this->transfers->stepAll(
            array_filter($claimed, static fn (ClaimedFile $one): bool => $one->transfer()->step()->isUnderWay()),
            static fn (Transfer $now) => $now->halted(),
        );
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
            $this->entities->refresh($intake);
            $this->tellState($intake);
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

    private function tellState(Intake $intake): void
    {
        $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => $intake->state->value]);
    }
}
