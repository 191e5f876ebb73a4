<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What a reading sees of the database, told in a word. */
final readonly class Snapshots
{
    public function __construct(private Rows $rows)
    {
    }

    /**
     * Of the transaction that is going on: two that have the same word see the same rows in every table (PostgreSQL 15,
     * 9.26, pg_snapshot: which transactions had ended; all that a server begins have other numbers). Nothing is said
     * of what lies on drives.
     */
    public function current(): string
    {
        return $this->rows->one('SELECT pg_current_snapshot()::text || pg_postmaster_start_time()::text AS seen')
            ->text('seen');
    }
}
