<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/**
 * Tells browsers what happens. Each happening has a number; numbers become visible in order, so a listener can catch
 * up.
 */
final readonly class Happenings
{
    /** PostgreSQL channel. */
    public const CHANNEL = 'happening';

    public function __construct(private Connection $database)
    {
    }

    /** @param array<string, mixed> $payload */
    public function tell(string $topic, array $payload): void
    {
        $this->database->executeStatement(
            <<<'SQL'
            WITH turn AS (SELECT pg_advisory_xact_lock(:lock, 0)),
                 line AS (INSERT INTO happening (topic, payload) SELECT :topic, CAST(:payload AS jsonb) FROM turn
                     RETURNING id)
            SELECT pg_notify('happening', id::text) FROM line
            SQL,
            ['lock' => Lock::Feed->value, 'topic' => $topic, 'payload' => json_encode($payload, \JSON_THROW_ON_ERROR)],
        );
    }

    /** Forgets what every browser has long heard. */
    public function forgetOld(): void
    {
        $this->database->executeStatement("DELETE FROM happening WHERE at < now() - interval '1 hour'");
    }
}
