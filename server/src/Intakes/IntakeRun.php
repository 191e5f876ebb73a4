<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Transfer\DestinationUnwritable;
use Velvet\Core\Transfer\ShootFolders;
use Velvet\Core\Transfer\TransferFailure;
use Velvet\Core\Transfer\VerifiedCopy;
use Velvet\Server\Entity\Entry;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Entity\Shoot;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Row;
use Velvet\Server\Rows;
use Velvet\Server\Sheets\Sheets;

/**
 * Copies an intake's files, one after another, until none is left, the intake is paused or stopped, or the program ends.
 * Begun again it goes on where it was: a file is either filed, failed, or still to do.
 */
final readonly class IntakeRun
{
    private const TELL_EVERY = 0.25; // seconds between two words on the progress within a file

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private Rows $rows,
        private VerifiedCopy $copy,
        private Ledger $ledger,
        private Happenings $happenings,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private Sheets $sheets,
    ) {
    }

    /**
     * @param bool                        $keepGoing   whether to go on after a drive refused a file
     * @param \Closure(string): void|null $onFile      told of each file before it is copied
     */
    public function run(int $intakeId, bool $keepGoing, ?\Closure $onFile = null): void
    {
        // whoever holds the lock is at work on it; it is let go of when the process or its connection dies
        if (true !== $this->rows->one('SELECT pg_try_advisory_lock(8419, :intake) AS mine', ['intake' => $intakeId])->bool('mine')) {
            return;
        }
        try {
            if (0 === $this->database->executeStatement("UPDATE intake SET state = 'running' WHERE id = :intake AND state IN ('waiting', 'running')", ['intake' => $intakeId])) {
                return;
            }
            $this->entities->clear();
            $this->files($intakeId, $keepGoing, $onFile);
        } finally {
            $this->entities->clear();
            $this->database->executeStatement('SELECT pg_advisory_unlock(8419, :intake)', ['intake' => $intakeId]);
        }
    }

    /** @param \Closure(string): void|null $onFile */
    private function files(int $intakeId, bool $keepGoing, ?\Closure $onFile): void
    {
        $intake = $this->entities->find(Intake::class, $intakeId) ?? throw new \LogicException('The intake is gone.');
        $this->tell($intakeId, null, 0);
        $since = microtime(true);
        while ('running' === $this->rows->one('SELECT state FROM intake WHERE id = :intake', ['intake' => $intakeId])->text('state')) {
            $next = $this->rows->first("SELECT t.*, c.root FROM transfer t JOIN card c ON c.id = t.card_id WHERE t.intake_id = :intake AND t.state = 'planned' ORDER BY t.id LIMIT 1", ['intake' => $intakeId]);
            $now = microtime(true);
            $this->database->executeStatement('UPDATE intake SET seconds = seconds + :more WHERE id = :intake', ['more' => $now - $since, 'intake' => $intakeId]);
            $since = $now;
            if (null === $next) {
                $this->finish($intake);

                return;
            }
            if (null !== $onFile) {
                $onFile($next->text('source'));
            }
            if (!$this->file($intake, $next) && !$keepGoing) {
                $this->database->executeStatement("UPDATE intake SET state = 'paused' WHERE id = :intake", ['intake' => $intakeId]);
                $this->tell($intakeId, null, 0);

                return;
            }
        }
    }

    /** One file, from the card to its last destination and into the ledger. False when a drive refused it. */
    private function file(Intake $intake, Row $transfer): bool
    {
        $shelf = $intake->shelf();
        $target = $transfer->text('target');
        $copied = 0;
        $lastTold = microtime(true);
        try {
            $digest = $this->copy->copy(
                $transfer->text('root').'/'.$transfer->text('source'),
                $transfer->int('bytes'),
                $transfer->int('modified_at'),
                array_map(static fn (string $root): string => $root.'/'.$target, $shelf->roots()),
                \sprintf('intake-%d-%d', $intake->id(), $transfer->int('id')),
                function (int $bytes) use (&$copied, &$lastTold, $intake, $target): void {
                    $copied += $bytes;
                    if (microtime(true) - $lastTold > self::TELL_EVERY) {
                        $lastTold = microtime(true);
                        $this->tell($intake->id(), $target, $copied);
                    }
                },
            );
        } catch (TransferFailure $e) {
            $this->database->executeStatement("UPDATE transfer SET state = 'failed', failure = :failure WHERE id = :id", ['failure' => $e->getMessage(), 'id' => $transfer->int('id')]);
            $this->ledger->write('file_failed', ['intake' => $intake->id(), 'from' => $transfer->text('source'), 'why' => $e->getMessage()]);
            $this->logger->warning('File not filed: {why}', ['why' => $e->getMessage()]);
            $this->tell($intake->id(), $target, 0);

            return !$e instanceof DestinationUnwritable;
        }
        $this->record($intake, $transfer, $digest);
        $this->tell($intake->id(), $target, 0);

        return true;
    }

    private function record(Intake $intake, Row $transfer, Digest $digest): void
    {
        $this->entities->wrapInTransaction(function () use ($intake, $transfer, $digest): void {
            $shelf = $intake->shelf();
            $shoot = $this->shoot($intake, $transfer->int('entry_id'));
            $frame = $this->rows->first('SELECT f.frame_id FROM transfer t JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake AND t.frame_key = :frame LIMIT 1', ['intake' => $intake->id(), 'frame' => $transfer->int('frame_key')]);
            $frameId = $frame?->int('frame_id') ?? $this->rows->one('INSERT INTO filed_frame (shoot_id, captured_at, facts, picture, stem, counter) VALUES (:shoot, :captured, :facts, :picture, :stem, :counter) RETURNING id', [
                'counter' => $transfer->intOrNull('counter'),
                'shoot' => $shoot->id(), 'captured' => $transfer->textOrNull('captured_at'), 'facts' => $transfer->text('facts'), 'picture' => $transfer->textOrNull('picture'),
                'stem' => preg_replace('/\..*$/', '', basename($transfer->text('target'))),
            ])->int('id');
            $filed = $this->rows->one(<<<'SQL'
                INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest, original_path, has_twin, filed_at)
                VALUES (:frame, :shelf, :intake, :path, :kind, :bytes, :fingerprint, :digest, :original, :twin, :at)
                ON CONFLICT (shelf_id, path) DO UPDATE SET frame_id = excluded.frame_id, intake_id = excluded.intake_id, bytes = excluded.bytes, fingerprint = excluded.fingerprint,
                    digest = excluded.digest, original_path = excluded.original_path, has_twin = excluded.has_twin, filed_at = excluded.filed_at
                RETURNING id
                SQL, [
                'frame' => $frameId, 'shelf' => $shelf->id(), 'intake' => $intake->id(), 'path' => $transfer->text('target'), 'kind' => $transfer->text('kind'), 'bytes' => $transfer->int('bytes'),
                'fingerprint' => $transfer->text('fingerprint'), 'digest' => $digest->hex, 'original' => $transfer->text('source'), 'twin' => null === $shelf->twinRoot ? 'false' : 'true', 'at' => $this->clock->now()->format('c'),
            ])->int('id');
            $this->database->executeStatement("UPDATE transfer SET state = 'filed', digest = :digest, filed_file_id = :filed WHERE id = :id", ['digest' => $digest->hex, 'filed' => $filed, 'id' => $transfer->int('id')]);
            $this->database->executeStatement('UPDATE card_file SET filed_file_id = :filed WHERE card_id = :card AND path = :path AND bytes = :bytes AND modified_at = :modified', ['filed' => $filed, 'card' => $transfer->int('card_id'), 'path' => $transfer->text('source'), 'bytes' => $transfer->int('bytes'), 'modified' => $transfer->int('modified_at')]);
            $this->database->executeStatement("UPDATE card_frame f SET state = 'filed' WHERE f.id = :frame AND f.state = 'new' AND NOT EXISTS (SELECT FROM card_file c WHERE c.frame_id = f.id AND c.filed_file_id IS NULL)", ['frame' => $transfer->int('frame_key')]);
            $this->ledger->write('file_filed', ['intake' => $intake->id(), 'from' => $transfer->text('source'), 'to' => array_map(static fn (string $root): string => $root.'/'.$transfer->text('target'), $shelf->roots()), 'bytes' => $transfer->int('bytes'), 'digest' => $digest->labelled()]);
        });
    }

    private function shoot(Intake $intake, int $entryId): Shoot
    {
        $entry = $this->entities->find(Entry::class, $entryId) ?? throw new \LogicException('The entry is gone.');
        if (null === $entry->shoot) {
            $folder = $entry->folder ?? throw new \LogicException('The entry has no folder.');
            $shoot = $this->entities->getRepository(Shoot::class)->findOneBy(['shelf' => $intake->shelf(), 'folder' => $folder]);
            if (null === $shoot) {
                $shoot = new Shoot($intake->shelf(), $folder, '' === trim($entry->name) ? basename($folder) : trim($entry->name), $entry->day, $this->clock->now());
                $this->entities->persist($shoot);
                foreach (ShootFolders::make($intake->shelf()->roots(), $folder, $this->sheets->styleOf($intake)->skeleton) as $missing) {
                    $this->logger->warning('Folder not made: {folder}', ['folder' => $missing]);
                }
            }
            $entry->shoot = $shoot;
            $this->entities->flush();
        }

        return $entry->shoot;
    }

    private function finish(Intake $intake): void
    {
        $this->database->executeStatement("UPDATE intake SET state = 'done', finished_at = :at WHERE id = :intake AND state = 'running'", ['at' => $this->clock->now()->format('c'), 'intake' => $intake->id()]);
        $counts = $this->rows->one("SELECT count(*) FILTER (WHERE state = 'filed') AS filed, count(*) FILTER (WHERE state = 'failed') AS failed FROM transfer WHERE intake_id = :intake", ['intake' => $intake->id()]);
        $this->ledger->write('intake_done', ['intake' => $intake->id(), 'filed' => $counts->int('filed'), 'failed' => $counts->int('failed')]);
        $this->tell($intake->id(), null, 0);
        $this->happenings->tell('bays', []);
    }

    private function tell(int $intakeId, ?string $target, int $bytesWithin): void
    {
        $this->happenings->tell('intake', ['id' => $intakeId, 'target' => $target, 'bytes_within' => $bytesWithin]);
    }
}
