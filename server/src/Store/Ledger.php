<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Ledger\LedgerLine;

/** The append-only record. Lines are written one after another, each sealed with the seal of the one before. */
final readonly class Ledger
{
    public function __construct(private Connection $database, private Locks $locks, private ClockInterface $clock)
    {
    }

    /**
     * @param array<string, mixed> $details
     *
     * @return string the line's seal
     */
    public function write(string $event, array $details): string
    {
        $write = function () use ($event, $details): string {
            $this->locks->untilCommitted(Lock::LedgerEnd);
            $before = $this->database->fetchOne('SELECT seal FROM ledger_line ORDER BY id DESC LIMIT 1');
            $line = LedgerLine::after(
                \is_string($before) ? $before : LedgerLine::FIRST_SEAL,
                $this->clock->now(),
                $event,
                $details,
            );
            $this->database->insert(
                'ledger_line',
                [
                    'at' => $line->at,
                    'event' => $line->event,
                    'details' => $line->details,
                    'before' => $line->before,
                    'seal' => $line->seal,
                ],
            );

            return $line->seal;
        };

        // most lines belong to what is written already; a savepoint would be two more statements for each file
        return $this->database->isTransactionActive() ? $write() : $this->database->transactional($write);
    }
}
