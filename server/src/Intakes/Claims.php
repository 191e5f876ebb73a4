<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Velvet\Core\Copy\FileStep;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Which worker has which file. Workers on several machines may share the drives: a file is claimed in the database, for
 * as long as a lease that is prolonged while the work goes on. A file whose worker died is free at once, when its
 * connection to the database is gone, and at the latest when its lease ends.
 */
final class Claims
{
    /** Seconds; longer than a drive takes to sync. */
    private const LEASE = 120;
    /** Seconds between two prolongations. */
    private const PROLONG_EVERY = 20;

    private readonly string $worker;
    private float $prolonged = 0.0;

    public function __construct(private readonly Connection $database, private readonly Rows $rows)
    {
        $this->worker = gethostname().' '.getmypid().' '.bin2hex(random_bytes(4));
    }

    /**
     * The next file of an intake that nobody has, now claimed; null where there is none. A file that may be on the
     * sheet twice waits until the other is done.
     */
    public function next(int $intakeId): ?Row
    {
        $this->prolonged = microtime(true);

        return $this->rows->first(<<<'SQL'
            UPDATE transfer t SET state = 'copying', worker = :worker,
            lease_until = now() + make_interval(secs => :lease), tries = t.tries + 1,
                   backend_pid = pg_backend_pid(), backend_start = (SELECT backend_start FROM pg_stat_activity WHERE pid = pg_backend_pid())
            FROM card c
            WHERE c.id = t.card_id AND t.id = (
                SELECT n.id FROM transfer n WHERE n.intake_id = :intake
                   AND (n.state = 'planned' OR (n.state IN ('copying', 'verifying')
                        AND (n.lease_until < now() OR NOT EXISTS (SELECT FROM pg_stat_activity a WHERE a.pid = n.backend_pid AND a.backend_start = n.backend_start))))
                   AND (NOT n.equals OR EXISTS (SELECT FROM transfer o WHERE o.intake_id = n.intake_id AND o.target = n.target AND NOT o.equals AND o.state IN ('filed', 'failed')))
                ORDER BY n.tries, n.equals, n.id LIMIT 1 FOR UPDATE OF n SKIP LOCKED)
            RETURNING t.*, c.root, c.label, c.identity
            SQL, ['intake' => $intakeId, 'worker' => $this->worker, 'lease' => self::LEASE]);
    }

    /** Whether anybody, dead or alive, still has something to do for an intake. */
    public function areAllDone(int $intakeId): bool
    {
        return !$this->rows->one(
            "SELECT EXISTS (SELECT FROM transfer WHERE intake_id = :intake
                AND state IN ('planned', 'copying', 'verifying')) OR EXISTS (SELECT FROM filed_file f
                JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from) WHERE t.intake_id = :intake
                AND t.state = 'filed' AND (f.metadata_state = 'waiting' AND f.outside IS NULL
                OR f.dng_state IN ('waiting', 'leaving', 'returning'))) AS work",
            ['intake' => $intakeId],
        )->bool('work');
    }

    public function prolong(int $transferId): void
    {
        if (microtime(true) - $this->prolonged > self::PROLONG_EVERY) {
            $this->prolonged = microtime(true);
            $this->database->executeStatement(
                'UPDATE transfer SET lease_until = now() + make_interval(secs => :lease) WHERE id = :id
                    AND worker = :worker',
                ['lease' => self::LEASE, 'id' => $transferId, 'worker' => $this->worker],
            );
        }
    }

    /** Gives a file back that this worker could not finish for a reason that has nothing to do with the file. */
    public function giveBack(Row $transfer): void
    {
        $this->database->executeStatement(
            "UPDATE transfer
                SET state = 'planned', tries = greatest(0, tries - 1), worker = NULL, lease_until = NULL, backend_pid = NULL, backend_start = NULL
                WHERE id = :id AND worker = :worker AND state IN ('copying', 'verifying')",
            ['id' => $transfer->int('id'), 'worker' => $this->worker],
        );
    }

    /** Whether this worker still has a file; its row is locked until the transaction ends. */
    public function has(Row $transfer, FileStep $at): bool
    {
        return null !== $this->rows->first(
            'SELECT id FROM transfer WHERE id = :id AND worker = :worker AND state = :at FOR UPDATE',
            ['id' => $transfer->int('id'), 'worker' => $this->worker, 'at' => $at->value],
        );
    }

    /**
     * Takes a file that this worker has to its next step.
     *
     * @param array<string, string|int|null> $columns what is known then
     *
     * @return bool false where another worker took it over meanwhile; nothing is changed then
     */
    public function step(Row $transfer, FileStep $from, FileStep $to, array $columns = []): bool
    {
        \assert($from->mayBecome($to));
        $set = ['state = :to'];
        foreach (array_keys($columns) as $column) {
            $set[] = "$column = :$column";
        }
        if (!$to->isUnderWay()) {
            $set[] = 'worker = NULL, lease_until = NULL, backend_pid = NULL, backend_start = NULL';
        }

        return 1 === $this->database->executeStatement(
            \sprintf(
                'UPDATE transfer SET %s WHERE id = :id AND worker = :worker AND state = :from',
                implode(', ', $set),
            ),
            $columns + [
                'to' => $to->value,
                'from' => $from->value,
                'id' => $transfer->int('id'),
                'worker' => $this->worker,
            ],
        );
    }
}
