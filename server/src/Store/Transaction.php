<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** What is written all at once or not at all; within another one it is part of that. */
final readonly class Transaction
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     */
    public function of(\Closure $do): mixed
    {
        return $this->database->transactional($do);
    }

    /**
     * Reads in which nothing changes from the first to the last, whatever is written meanwhile.
     *
     * @template T
     *
     * @param \Closure(): T $read
     *
     * @return T
     */
    public function ofReading(\Closure $read): mixed
    {
        return $this->database->transactional(function () use ($read): mixed {
            $this->database->executeStatement('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY');

            return $read();
        });
    }
}
