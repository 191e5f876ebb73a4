<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Process;

/**
 * The catalogue as a whole: dumped in PostgreSQL's custom format, brought up beside the one in use, and put in its
 * place. Nothing is dropped but what was brought up to be compared.
 */
final readonly class Catalogue
{
    private const TIMEOUT = 3600; // seconds
    private const DROPPING = 60_000; // milliseconds; it waits for each session of the database to take notice

    public function __construct(
        private Connection $database,
        #[Autowire('%env(default::VELVET_PG_BIN)%')]
        private ?string $programs,
    ) {
    }

    /**
     * Dumps it, and counts what is dumped in the same snapshot.
     *
     * @param string $to path of a file that is not there yet
     */
    public function dump(string $to): CatalogueSum
    {
        return $this->database->transactional(function (Connection $database) use ($to): CatalogueSum {
            $database->executeStatement('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY');
            $snapshot = $database->fetchOne('SELECT pg_export_snapshot()');
            \assert(\is_string($snapshot));
            $this->run('pg_dump', ['-Fc', '-Z1', '--no-owner', '--snapshot='.$snapshot, '-f', $to, $this->name()]);

            return self::sum($database);
        });
    }

    /**
     * Brings a dump up in a database of its own.
     *
     * @param string $file a dump in PostgreSQL's custom format
     *
     * @throws BackupRefused
     */
    public function bringUp(string $file, string $name): CatalogueSum
    {
        $this->drop($name);
        $this->database->executeStatement('CREATE DATABASE '.$this->database->quoteSingleIdentifier($name));
        $this->run('pg_restore', ['--exit-on-error', '--no-owner', '-j2', '-d', $name, $file]);
        $database = $this->connect($name);
        try {
            return self::sum($database);
        } finally {
            $database->close();
        }
    }

    public function drop(string $name): void
    {
        $this->database->executeStatement('SET statement_timeout = '.self::DROPPING);
        try {
            $this->database->executeStatement(
                'DROP DATABASE IF EXISTS '.$this->database->quoteSingleIdentifier($name).' WITH (FORCE)',
            );
        } finally {
            $this->database->executeStatement('SET statement_timeout = 0');
        }
    }

    /** Whether nothing was ever filed or made known in it. */
    public function isEmpty(): bool
    {
        return !(new Rows($this->database))->one(
            'SELECT EXISTS (SELECT FROM shelf) OR EXISTS (SELECT FROM ledger_line) OR EXISTS (SELECT FROM intake)
                OR EXISTS (SELECT FROM house_style) AS it',
        )->bool('it');
    }

    /** Puts a database that was brought up in the place of the one in use, which gets the other name. */
    public function exchange(string $broughtUp, string $setAside): void
    {
        $name = $this->name();
        $this->database->close();
        $elsewhere = $this->connect('postgres');
        $quoted = $elsewhere->quoteSingleIdentifier(...);
        try {
            $elsewhere->transactional(static function (Connection $database) use (
                $quoted,
                $name,
                $broughtUp,
                $setAside,
            ): void {
                $database->executeStatement(
                    \sprintf('ALTER DATABASE %s RENAME TO %s', $quoted($name), $quoted($setAside)),
                );
                $database->executeStatement(
                    \sprintf('ALTER DATABASE %s RENAME TO %s', $quoted($broughtUp), $quoted($name)),
                );
            });
        } finally {
            $elsewhere->close();
        }
    }

    private static function sum(Connection $database): CatalogueSum
    {
        $tables = $database->fetchFirstColumn(
            "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename",
        );
        $rows = new Rows($database);
        $counts = [];
        foreach (array_filter($tables, is_string(...)) as $table) {
            $counts[$table] = $rows->one(
                'SELECT count(*) AS rows FROM '.$database->quoteSingleIdentifier($table),
            )->int('rows');
        }
        $chain = new LedgerChain($rows);
        $schema = $database->fetchFirstColumn('SELECT version FROM doctrine_migration_versions ORDER BY version');

        return new CatalogueSum(
            $counts,
            $chain->check(),
            $chain->end(),
            array_values(array_filter($schema, is_string(...))),
        );
    }

    private function connect(string $name): Connection
    {
        return DriverManager::getConnection(['dbname' => $name] + $this->database->getParams());
    }

    private function name(): string
    {
        return $this->database->getParams()['dbname'] ?? throw new \LogicException('The database has no name.');
    }

    /**
     * @param list<string> $arguments
     *
     * @throws BackupRefused
     */
    private function run(string $program, array $arguments): void
    {
        $parameters = $this->database->getParams();
        $process = new Process(
            [(null === $this->programs ? '' : $this->programs.'/').$program, ...$arguments],
            env: [
                'PGHOST' => $parameters['host'] ?? '',
                'PGUSER' => $parameters['user'] ?? '',
                'PGPASSWORD' => $parameters['password'] ?? '',
            ],
            timeout: self::TIMEOUT,
        );
        $process->run();
        if (!$process->isSuccessful()) {
            throw BackupRefused::program($program, $process->getErrorOutput());
        }
    }
}
