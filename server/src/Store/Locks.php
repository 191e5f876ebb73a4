<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** Takes locks of the session or of the transaction: what is held when its process dies is free again. */
final readonly class Locks
{
    /** Locks that are held in this database: of pg_locks, where the two numbers are classid and objid. */
    private const HELD = <<<'SQL'
        FROM pg_locks WHERE locktype = 'advisory' AND granted AND classid = :lock
            AND database = (SELECT oid FROM pg_database WHERE datname = current_database())
        SQL;

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /**
     * Does something while a lock is held; waits for it first.
     *
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     */
    public function with(Lock $lock, int $id, \Closure $do): mixed
    {
        $this->take($lock, $id);
        try {
            return $do();
        } finally {
            $this->release($lock, $id);
        }
    }

    /** Waits for it; held until it is released or the session ends. */
    public function take(Lock $lock, int $id): void
    {
        $this->database->executeStatement('SELECT pg_advisory_lock(?, ?)', [$lock->value, $id]);
    }

    /** @return bool whether it is ours now; false where somebody else has it @phpstan-impure */
    public function isTaken(Lock $lock, int $id): bool
    {
        return $this->rows->one(
            'SELECT pg_try_advisory_lock(:lock, :id) AS mine',
            ['lock' => $lock->value, 'id' => $id],
        )->bool('mine');
    }

    public function release(Lock $lock, int $id): void
    {
        $this->database->executeStatement('SELECT pg_advisory_unlock(?, ?)', [$lock->value, $id]);
    }

    /** As {@see self::take}, together with others who share it. */
    public function share(Lock $lock, int $id): void
    {
        $this->database->executeStatement('SELECT pg_advisory_lock_shared(?, ?)', [$lock->value, $id]);
    }

    public function releaseShare(Lock $lock, int $id): void
    {
        $this->database->executeStatement('SELECT pg_advisory_unlock_shared(?, ?)', [$lock->value, $id]);
    }

    /** Waits for its turn; held to the end of the transaction. */
    public function untilCommitted(Lock $lock, int $id = 0): void
    {
        $this->database->executeStatement('SELECT pg_advisory_xact_lock(?, ?)', [$lock->value, $id]);
    }

    /**
     * As {@see self::untilCommitted}, of several at once: who comes together takes them in the same order.
     *
     * @param list<int> $ids
     */
    public function allUntilCommitted(Lock $lock, array $ids): void
    {
        sort($ids);
        $this->database->executeStatement(
            'SELECT pg_advisory_xact_lock(:lock, id) FROM (SELECT value::int AS id
                FROM jsonb_array_elements_text(CAST(:ids AS jsonb)) WITH ORDINALITY ORDER BY ordinality) AS ordered',
            ['lock' => $lock->value, 'ids' => json_encode($ids, \JSON_THROW_ON_ERROR)],
        );
    }

    /** As {@see self::untilCommitted}, for what has a name instead of an id. */
    public function nameUntilCommitted(Lock $lock, string $name): void
    {
        $this->database->executeStatement('SELECT pg_advisory_xact_lock(?, hashtext(?))', [$lock->value, $name]);
    }

    /** @return list<int> ids of those that are held by anybody, each once */
    public function held(Lock $lock): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all('SELECT DISTINCT objid::int AS id '.self::HELD, ['lock' => $lock->value]),
        );
    }

    /** How many hold or share it. */
    public function holders(Lock $lock, int $id): int
    {
        return $this->rows->one(
            'SELECT count(*) AS n '.self::HELD.' AND objid = :id',
            ['lock' => $lock->value, 'id' => $id],
        )->int('n');
    }
}
