<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** Takes locks of the session: what is held when its process dies is free again. */
final readonly class Locks
{
    public function __construct(private Connection $database)
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
            $this->database->executeStatement('SELECT pg_advisory_unlock(?, ?)', [$lock->value, $id]);
        }
    }

    /** Until the session ends. */
    public function take(Lock $lock, int $id): void
    {
        $this->database->executeStatement('SELECT pg_advisory_lock(?, ?)', [$lock->value, $id]);
    }
}
