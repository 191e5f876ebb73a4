<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;

/**
 * Edits that are asked for under a key are done once, however often they are asked for: a page that was left before it
 * was answered asks again when it is back. Keys are remembered for a day.
 */
final readonly class AnsweredEdits
{
    private const REMEMBERED = '-1 day';

    public function __construct(private Connection $database, private Rows $rows, private ClockInterface $clock)
    {
    }

    /**
     * Does it unless it was done before; both or neither is kept. Nobody else edits the sheet meanwhile.
     *
     * @param string         $key chosen by who asks; of any length
     * @param \Closure(): void $edit
     */
    public function once(Intake $intake, string $key, \Closure $edit): void
    {
        $of = ['intake' => $intake->id(), 'key' => hash('xxh128', $key)];
        $this->database->transactional(function () use ($of, $edit): void {
            $done = 'SELECT 1 FROM answered_edit WHERE intake_id = :intake AND key = :key';
            if (null !== $this->rows->first($done, $of)) {
                return;
            }
            $edit();
            $now = $this->clock->now();
            $this->database->executeStatement(
                'INSERT INTO answered_edit (intake_id, key, answered_at) VALUES (:intake, :key, :now)',
                $of + ['now' => $now->format('c')],
            );
            $this->database->executeStatement(
                'DELETE FROM answered_edit WHERE answered_at < :old',
                ['old' => $now->modify(self::REMEMBERED)->format('c')],
            );
        });
    }
}
