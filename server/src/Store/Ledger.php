<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Ledger\LedgerLine;

/** The append-only record. Lines are written one after another, each sealed with the seal of the one before. */
final readonly class Ledger
{
    public function __construct(
        private Connection $database,
        private Locks $locks,
        private JsonRows $rows,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param array<string, mixed> $details
     *
     * @return string the line's seal
     */
    public function write(string $event, array $details): string
    {
        return $this->writeAll([[$event, $details]]);
    }

    /**
     * Several lines, one after another.
     *
     * @param non-empty-list<array{string, array<string, mixed>}> $lines event and details of each
     *
     * @return string the seal of the last one
     */
    public function writeAll(array $lines): string
    {
        $write = function () use ($lines): string {
            $this->locks->untilCommitted(Lock::LedgerEnd);
            $last = $this->database->fetchOne('SELECT seal FROM ledger_line ORDER BY id DESC LIMIT 1');
            $seal = \is_string($last) ? $last : LedgerLine::FIRST_SEAL;
            $now = $this->clock->now();
            $rows = [];
            foreach ($lines as [$event, $details]) {
                $line = LedgerLine::after($seal, $now, $event, $details);
                $rows[] = [
                    'at' => $line->at,
                    'event' => $line->event,
                    'details' => $line->details,
                    'before' => $line->before,
                    'seal' => $line->seal,
                ];
                $seal = $line->seal;
            }
            $this->rows->execute(<<<'SQL'
                INSERT INTO ledger_line (at, event, details, before, seal)
                SELECT at, event, details, before, seal
                FROM ROWS FROM (jsonb_to_recordset(CAST(:rows AS jsonb))
                    AS (at text, event text, details text, before text, seal text))
                    WITH ORDINALITY AS r(at, event, details, before, seal, n) ORDER BY n
                SQL, $rows);

            return $seal;
        };

        // most lines belong to what is written already; a savepoint would be two more statements for each file
        return $this->database->isTransactionActive() ? $write() : $this->database->transactional($write);
    }
}
