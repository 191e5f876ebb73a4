<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;

/**
 * Remembers when all seals of the ledger were last computed, so that a page need not do it each time it is looked at.
 */
final readonly class LedgerChecks
{
    public function __construct(private Connection $database, private Rows $rows, private ClockInterface $clock)
    {
    }

    /** What was found to fit then; null where nothing was, or where it is not what the ledger begins with now. */
    public function last(): ?CheckedLines
    {
        $row = $this->rows->first(<<<'SQL'
            SELECT c.line_id, c.lines, c.seal, c.at FROM ledger_check c
                JOIN ledger_line l ON l.id = c.line_id AND l.seal = c.seal
            WHERE c.lines = (SELECT count(*) FROM ledger_line WHERE id <= c.line_id)
            SQL);

        return null === $row ? null : new CheckedLines(
            $row->int('lines'),
            $row->int('line_id'),
            $row->text('seal'),
            new \DateTimeImmutable($row->text('at')),
        );
    }

    /**
     * All seals were computed and fitted.
     *
     * @param int    $lines that there were
     * @param string $seal  the last one
     */
    public function passed(int $lines, string $seal): void
    {
        if (!$this->rows->one("SELECT to_regclass('ledger_check') IS NOT NULL AS it")->bool('it')) {
            return; // an older home is kept before it is migrated
        }
        $this->database->executeStatement(<<<'SQL'
            INSERT INTO ledger_check (at, line_id, lines, seal)
                SELECT :at, id, :lines, seal FROM ledger_line WHERE seal = :seal
            ON CONFLICT (one) DO UPDATE
                SET at = excluded.at, line_id = excluded.line_id, lines = excluded.lines, seal = excluded.seal
            SQL, ['at' => $this->clock->now()->format('c'), 'lines' => $lines, 'seal' => $seal]);
    }
}
