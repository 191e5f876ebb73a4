<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/**
 * Many rows in one statement: PostgreSQL unfolds a JSON array (`jsonb_to_recordset`), so thousands of rows need no long
 * SQL.
 */
final readonly class JsonRows
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @param string                     $sql     with `:rows` where the JSON array goes
     * @param list<mixed>          $rows
     * @param array<string, mixed>       $and     further parameters
     */
    public function execute(string $sql, array $rows, array $and = []): void
    {
        if ([] !== $rows) {
            $this->database->executeStatement(
                $sql,
                ['rows' => json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION)] + $and,
            );
        }
    }
}
