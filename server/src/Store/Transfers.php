<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query\ResultSetMapping;
use Doctrine\ORM\Query\ResultSetMappingBuilder;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Plan\PlannedWords;

/**
 * The files on their way, and which worker has which. Workers on several machines may share the drives: a file is
 * claimed in the database, for as long as a lease that is prolonged while the work goes on. A file whose worker died is
 * free at once, when its connection to the database is gone, and at the latest when its lease ends.
 */
final class Transfers
{
    /** Seconds; longer than a drive takes to sync. */
    private const LEASE = 120;
    /** Seconds between two prolongations. */
    private const PROLONG_EVERY = 20;
    /** Files that one worker claims at once: a drive is synced and the database asked once for all of them. */
    private const MOST = 64;
    /** Bytes from which on no further file is claimed with them: what is large is copied by itself. */
    private const MOST_BYTES = 16_000_000;

    /** What may be on the sheet twice waits until the other one is done. */
    private const ITS_TURN = <<<'SQL'
        (NOT n.equals OR EXISTS (SELECT FROM transfer o WHERE o.intake_id = n.intake_id
            AND o.target = n.target AND NOT o.equals AND o.state IN ('filed', 'failed')))
        SQL;

    private readonly string $worker;
    private float $prolonged = 0.0;
    private ?ResultSetMapping $claimed = null;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Connection $database,
        private readonly Rows $rows,
        private readonly EntityRows $entityRows,
    ) {
        $this->worker = gethostname().' '.getmypid().' '.bin2hex(random_bytes(4));
    }

    /** @param list<Transfer> $planned */
    public function add(array $planned): void
    {
        $this->entityRows->insertAll(Transfer::class, $planned);
    }

    /**
     * The next files of an intake that nobody has, all of one card, now claimed; none where there are none. A file that
     * may be on the sheet twice waits until the other is done; one that was tried before is claimed by itself, so that
     * what brings a worker down takes no other file with it. This is {@see Transfer::begun()} in one statement, so that
     * workers who come at once get different files.
     *
     * @return list<ClaimedFile> in the order in which they are to be copied
     */
    public function claim(int $intake): array
    {
        $this->prolonged = microtime(true);
        $found = $this->entities->createNativeQuery(\sprintf(<<<'SQL'
            WITH open AS MATERIALIZED (
                SELECT n.id, n.tries, n.equals, n.bytes, n.card_id FROM transfer n WHERE n.intake_id = :intake
                    AND n.state IN ('planned', 'copying', 'verifying')
                    AND (n.state = 'planned' OR n.lease_until < now() OR NOT EXISTS (SELECT FROM pg_stat_activity a
                        WHERE a.pid = n.backend_pid AND a.backend_start = n.backend_start))
                    AND %s
                ORDER BY n.tries, n.equals, n.id LIMIT :most FOR UPDATE OF n SKIP LOCKED
            ), next AS (
                SELECT id, tries, row_number() OVER line AS n, sum(bytes) OVER line - bytes AS bytes_before,
                    card_id = first_value(card_id) OVER line AS is_of_the_card
                FROM open WINDOW line AS (ORDER BY tries, equals, id)
            )
            UPDATE transfer t SET state = 'copying', worker = :worker, tries = t.tries + 1,
                lease_until = now() + make_interval(secs => :lease), backend_pid = pg_backend_pid(),
                backend_start = (SELECT backend_start FROM pg_stat_activity WHERE pid = pg_backend_pid())
            FROM card c, next x
            WHERE c.id = t.card_id AND t.id = x.id
                AND (x.n = 1 OR (x.tries = 0 AND x.is_of_the_card AND x.bytes_before < :bytes))
            RETURNING t.*, c.root AS card_root, c.label AS card_label, c.identity AS card_identity
            SQL, self::ITS_TURN), $this->claimed ??= $this->claimed())
            ->setParameter('intake', $intake)
            ->setParameter('worker', $this->worker)
            ->setParameter('lease', self::LEASE)
            ->setParameter('most', self::MOST)
            ->setParameter('bytes', self::MOST_BYTES)
            ->getResult();
        $text = static fn (mixed $value): string => \is_string($value) ? $value : '';
        $claimed = [];
        foreach (\is_array($found) ? $found : [] as $row) {
            if (!\is_array($row) || !($row[0] ?? null) instanceof Transfer) {
                throw new \LogicException('The claim gave no file.');
            }
            $this->entities->detach($row[0]);
            $claimed[] = new ClaimedFile($row[0], new CardAt(
                $row[0]->card(),
                $text($row['root'] ?? null),
                $text($row['label'] ?? null),
                $text($row['identity'] ?? null),
            ));
        }
        $order = static fn (ClaimedFile $one): array => [$one->transfer()->equals(), $one->transfer()->id()];
        usort($claimed, static fn (ClaimedFile $one, ClaimedFile $other): int => $order($one) <=> $order($other));

        return $claimed;
    }

    /**
     * The one way in which a file that this worker has changes: on its locked row, all of it or nothing. Nobody else
     * changes it meanwhile, so it is not read again.
     *
     * @param \Closure(Transfer): void $do may write elsewhere, too: that belongs to the same transaction
     *
     * @return bool false where another worker took it over meanwhile: nothing is done then
     */
    public function change(ClaimedFile $claimed, \Closure $do): bool
    {
        return [] !== $this->changeAll([$claimed], static fn (array $now) => $do($now[0]));
    }

    /**
     * As {@see self::change()}, of several files at once.
     *
     * @param list<ClaimedFile>                   $claimed
     * @param \Closure(non-empty-array<int, Transfer>): void $do given those that this worker still has, by their place
     *     in the list; not called where there are none
     *
     * @return list<ClaimedFile> those
     */
    public function changeAll(array $claimed, \Closure $do): array
    {
        $changed = $this->database->transactional(function () use ($claimed, $do): array {
            $ours = [];
            foreach ($this->rows->all(
                'SELECT id FROM transfer WHERE id = ANY(ARRAY(SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))) AND worker = :worker ORDER BY id FOR UPDATE',
                ['ids' => self::ids($claimed), 'worker' => $this->worker],
            ) as $row) {
                $ours[$row->int('id')] = true;
            }
            $now = [];
            foreach ($claimed as $i => $one) {
                if (isset($ours[$one->transfer()->id()])) {
                    $now[$i] = clone $one->transfer();
                }
            }
            if ([] !== $now) {
                $do($now);
                $this->entityRows->updateAll(Transfer::class, self::changes($claimed, $now));
            }

            return $now;
        });
        foreach ($changed as $i => $now) {
            $claimed[$i]->is($now);
        }

        return array_values(array_intersect_key($claimed, $changed));
    }

    /**
     * All of them take a step to which nothing else belongs, in one statement; those that another worker took over
     * meanwhile stay as they are.
     *
     * @param array<int, ClaimedFile>          $claimed
     * @param \Closure(Transfer, int): void $do      also given the place in the list
     *
     * @return list<int> the places of those others
     */
    public function stepAll(array $claimed, \Closure $do): array
    {
        $now = array_map(static fn (ClaimedFile $one): Transfer => clone $one->transfer(), $claimed);
        array_map($do, $now, array_keys($now));
        $changes = self::changes($claimed, $now);
        $ours = $this->entityRows->updateAll(Transfer::class, $changes, ['worker' => $this->worker]);
        $others = [];
        foreach ($claimed as $i => $one) {
            if (\in_array($one->transfer()->id(), $ours, true)) {
                $one->is($now[$i]);
            } else {
                $others[] = $i;
            }
        }

        return $others;
    }

    /**
     * @param array<int, ClaimedFile> $claimed
     * @param array<int, Transfer>    $now
     *
     * @return list<array{Transfer, Transfer}>
     */
    private static function changes(array $claimed, array $now): array
    {
        $changes = [];
        foreach ($now as $i => $one) {
            $changes[] = [$one, $claimed[$i]->transfer()];
        }

        return $changes;
    }

    /** @param list<ClaimedFile> $claimed */
    private static function ids(array $claimed): string
    {
        return json_encode(
            array_map(static fn (ClaimedFile $one): int => $one->transfer()->id(), $claimed),
            \JSON_THROW_ON_ERROR,
        );
    }

    /**
     * @param string               $sql        asking for all columns of the table, as `t`
     * @param array<string, mixed> $parameters
     *
     * @return list<Transfer>
     */
    private function read(string $sql, array $parameters): array
    {
        $found = new ResultSetMappingBuilder($this->entities);
        $found->addRootEntityFromClassMetadata(Transfer::class, 't');
        $query = $this->entities->createNativeQuery($sql, $found);
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value);
        }
        $result = $query->getResult();
        $transfers = [];
        foreach (\is_array($result) ? $result : [] as $transfer) {
            \assert($transfer instanceof Transfer);
            $this->entities->detach($transfer);
            $transfers[] = $transfer;
        }

        return $transfers;
    }

    private function claimed(): ResultSetMapping
    {
        $found = new ResultSetMappingBuilder($this->entities);
        $found->addRootEntityFromClassMetadata(Transfer::class, 't');
        foreach (['root', 'label', 'identity'] as $column) {
            $found->addScalarResult('card_'.$column, $column, 'string');
        }

        return $found;
    }

    /** @param list<ClaimedFile> $held */
    public function prolong(array $held): void
    {
        if (microtime(true) - $this->prolonged > self::PROLONG_EVERY) {
            $this->prolonged = microtime(true);
            $this->database->executeStatement(
                'UPDATE transfer SET lease_until = now() + make_interval(secs => :lease)
                    WHERE id = ANY(ARRAY(SELECT value::bigint FROM jsonb_array_elements_text(CAST(:ids AS jsonb))))
                    AND worker = :worker',
                ['lease' => self::LEASE, 'ids' => self::ids($held), 'worker' => $this->worker],
            );
        }
    }

    /**
     * Gives files back that this worker could not finish for a reason that has nothing to do with them.
     *
     * @param list<ClaimedFile> $claimed
     */
    public function giveBack(array $claimed): void
    {
        $this->stepAll(
            array_filter($claimed, static fn (ClaimedFile $one): bool => $one->transfer()->step()->isUnderWay()),
            static fn (Transfer $now) => $now->givenBack(),
        );
    }

    /** Whether there are files that {@see self::claim()} would give, nobody being at it. */
    public function isAnyFree(int $intake): bool
    {
        return $this->rows->one(
            "SELECT EXISTS (SELECT FROM transfer n WHERE n.intake_id = :intake AND n.state = 'planned'
                AND ".self::ITS_TURN.') AS any',
            ['intake' => $intake],
        )->bool('any');
    }

    /** Whether there is so much to copy that two workers go at it. */
    public function areForTwo(int $intake): bool
    {
        $open = $this->rows->one(
            "SELECT count(*) AS files, coalesce(sum(bytes), 0) AS bytes FROM transfer
                WHERE intake_id = :intake AND state = 'planned'",
            ['intake' => $intake],
        );

        return self::isForTwo($open->int('files'), $open->int('bytes'));
    }

    /** Whether it is clearly more than one worker claims at once. */
    public static function isForTwo(int $files, int $bytes): bool
    {
        return $files > 2 * self::MOST || $bytes > 2 * self::MOST_BYTES;
    }

    /** Whether anybody, dead or alive, still has something to do for an intake. */
    public function areAllDone(int $intake): bool
    {
        return !$this->rows->one(<<<'SQL'
            SELECT EXISTS (SELECT FROM transfer WHERE intake_id = :intake
                    AND state IN ('planned', 'copying', 'verifying'))
                OR EXISTS (SELECT FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from)
                    WHERE t.intake_id = :intake AND t.state = 'filed'
                    AND (f.metadata_state = 'waiting' AND f.outside IS NULL
                        OR f.dng_state IN ('waiting', 'leaving', 'returning'))) AS work
            SQL, ['intake' => $intake])->bool('work');
    }

    /**
     * Files of a card, spread over it, that were read when the intake was planned.
     *
     * @return list<Transfer> not many more than the most
     */
    public function spread(int $intake, int $card, int $most): array
    {
        return $this->read(<<<'SQL'
            SELECT * FROM (
                SELECT t.*, row_number() OVER (ORDER BY id) - 1 AS n, count(*) OVER () AS total FROM transfer t
                WHERE intake_id = :intake AND card_id = :card AND fingerprint IS NOT NULL
            ) AS t WHERE n % greatest(1, total / :most) = 0 ORDER BY n
            SQL, ['intake' => $intake, 'card' => $card, 'most' => $most]);
    }

    /** @return array{filed: int, same: int, failed: int} files of an intake by what became of them */
    public function outcome(int $intake): array
    {
        $row = $this->rows->one(<<<'SQL'
            SELECT count(*) FILTER (WHERE state = 'filed') AS filed, count(*) FILTER (WHERE state = 'same') AS same,
                count(*) FILTER (WHERE state = 'failed') AS failed
            FROM transfer WHERE intake_id = :intake
            SQL, ['intake' => $intake]);

        return ['filed' => $row->int('filed'), 'same' => $row->int('same'), 'failed' => $row->int('failed')];
    }

    /** The filed one that a file seems to equal; null where it failed. */
    public function equalTo(Transfer $transfer): ?Transfer
    {
        $found = $this->entities->createQuery(
            'SELECT t FROM '.Transfer::class.' t WHERE t.intake = :intake AND t.target = :target
                AND t.equals = false AND t.state = :filed',
        )
            ->setParameter('intake', $transfer->intake())
            ->setParameter('target', $transfer->target())
            ->setParameter('filed', FileStep::Filed->value)
            ->getResult();
        $other = \is_array($found) ? $found[0] ?? null : null;
        if (!$other instanceof Transfer) {
            return null;
        }
        $this->entities->detach($other);

        return $other;
    }

    /**
     * The filed frames that files of the same frames belong to already.
     *
     * @param list<int> $frames on the card
     *
     * @return array<int, int> ids of filed frames, by those on the card
     */
    public function filedFrames(int $intake, array $frames): array
    {
        $filed = [];
        foreach ($this->rows->all(
            'SELECT DISTINCT ON (t.frame_key) t.frame_key, f.frame_id FROM transfer t
                JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake
                AND t.frame_key = ANY(ARRAY(SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb))))',
            ['intake' => $intake, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        ) as $row) {
            $filed[$row->int('frame_key')] = $row->int('frame_id');
        }

        return $filed;
    }

    /**
     * What frames are to say, which is planned with each of their files that can hold it.
     *
     * @param list<int> $frames on the card
     *
     * @return array<int, PlannedWords> by the frame on the card
     */
    public function wordsOfFrames(int $intake, array $frames): array
    {
        $words = [];
        foreach ($this->rows->all(
            'SELECT DISTINCT ON (frame_key) frame_key, metadata FROM transfer WHERE intake_id = :intake
                AND frame_key = ANY(ARRAY(SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb))))
                AND metadata IS NOT NULL ORDER BY frame_key, id',
            ['intake' => $intake, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        ) as $row) {
            $words[$row->int('frame_key')] = PlannedWords::fromArray($row->json('metadata'));
        }

        return $words;
    }

    /**
     * The files of a frame that should equal another one are copied in its place. All of them go together: those of the
     * other that were filed already are found equal on the drives.
     */
    public function copyInstead(Transfer $transfer): void
    {
        $this->database->executeStatement(<<<'SQL'
            UPDATE transfer SET equals = false WHERE intake_id = :intake AND frame_key = :frame AND state = 'planned'
                AND NOT EXISTS (SELECT FROM transfer o WHERE o.intake_id = transfer.intake_id
                    AND o.target = transfer.target AND NOT o.equals AND o.state <> 'failed')
            SQL, ['intake' => $transfer->intake(), 'frame' => $transfer->frame()]);
    }

    /** Of what failed, files that equal another one that was filed in their place meanwhile are compared with that. */
    public function compareFailed(int $intake): void
    {
        $this->database->executeStatement(<<<'SQL'
            UPDATE transfer t SET equals = true WHERE intake_id = :intake AND state = 'failed' AND NOT equals
                AND EXISTS (SELECT FROM transfer o WHERE o.intake_id = t.intake_id AND o.target = t.target
                    AND o.id <> t.id AND NOT o.equals AND o.state <> 'failed')
            SQL, ['intake' => $intake]);
    }

    /** What failed is tried again; within a transaction. */
    public function retry(int $intake): void
    {
        $failed = $this->entities->createQuery(
            'SELECT t FROM '.Transfer::class.' t WHERE t.intake = :intake AND t.state = :failed',
        )
            ->setParameter('intake', $intake)
            ->setParameter('failed', FileStep::Failed->value)
            ->setLockMode(LockMode::PESSIMISTIC_WRITE)
            ->getResult();
        $failed = array_filter(
            \is_array($failed) ? $failed : [],
            static fn (mixed $one): bool => $one instanceof Transfer,
        );
        foreach ($failed as $one) {
            $one->retried();
        }
        $this->entities->flush();
        foreach ($failed as $one) {
            $this->entities->detach($one);
        }
    }
}
