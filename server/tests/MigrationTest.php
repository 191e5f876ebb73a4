<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Schema\Schema;
use Doctrine\DBAL\Tools\DsnParser;
use Doctrine\Migrations\AbstractMigration;
use Psr\Log\NullLogger;

/**
 * The migration that brought places, on data made by the ones before: what was only assumed of copies is not taken over
 * as proven.
 */
final class MigrationTest extends ServerTestCase
{
    private const PLACES = 'Version20261128000001';

    public function testCopiesOfAnOlderHomeCountWhenTheyHaveBeenReadAgain(): void
    {
        $this->database()->executeStatement('DROP DATABASE IF EXISTS velvet_before WITH (FORCE)');
        $this->database()->executeStatement('CREATE DATABASE velvet_before');
        $old = $this->before();
        try {
            foreach (self::versions() as $version) {
                if (self::PLACES === $version) {
                    $this->fill($old);
                }
                $this->migrate($old, $version);
            }
            self::assertSame(
                [['a.jpg', '/shelf', 'whole'], ['a.jpg', '/twin', 'changed'], ['b.jpg', '/shelf', 'whole']],
                $old->fetchAllNumeric(
                    'SELECT f.path, p.root, c.state FROM filed_copy c JOIN place p ON p.id = c.place_id
                        JOIN filed_file f ON f.id = c.file_id ORDER BY f.path, p.root',
                ),
            );
            self::assertSame(
                ['', ''],
                $old->fetchFirstColumn('SELECT drive FROM place'),
                'of no drive that could be connected',
            );
            self::assertSame('{"/shelf": {"id": "", "point": "/mnt"}}', $old->fetchOne('SELECT drives FROM shelf'));
            self::assertSame(
                [null, null, false],
                $old->fetchNumeric('SELECT insertion, listing, one_drive_is_enough FROM card'),
                'the card is read again first',
            );
        } finally {
            $old->close();
            $this->database()->executeStatement('DROP DATABASE velvet_before WITH (FORCE)');
        }
    }

    private function fill(Connection $old): void
    {
        foreach ([
            "INSERT INTO card (identity, label, root, present, state, put_in_at)
                VALUES ('folder:/card', 'CARD', '/card', true, 'read', now())",
            "INSERT INTO shelf (name, root, twin_root, mount_points)
                VALUES ('Studio', '/shelf', '/twin', '{\"/shelf\": \"/mnt\"}')",
            "INSERT INTO intake (state, shelf_id, day_starts, opened_at, started_at, drives)
                VALUES ('done', 1, '04:00', now(), now(), '{\"/shelf\": 2049}')",
            "INSERT INTO shoot (shelf_id, folder, name, created_at) VALUES (1, '', 'Regatta', now())",
            "INSERT INTO filed_frame (shoot_id, facts, stem) VALUES (1, '{}', 'a')",
            "INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest,
                original_path, has_twin, damaged_on_twin, filed_at)
                VALUES (1, 1, 1, 'a.jpg', 'jpeg', 3, repeat('0', 32), repeat('a', 32), 'T1.JPG', true, true, now())",
            "INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest,
                original_path, has_twin, filed_at)
                VALUES (1, 1, 1, 'b.jpg', 'jpeg', 3, repeat('0', 32), repeat('b', 32), 'T2.JPG', false, now())",
        ] as $statement) {
            $old->executeStatement($statement);
        }
    }

    private function migrate(Connection $old, string $version): void
    {
        require_once \dirname(__DIR__).'/migrations/'.$version.'.php';
        $class = 'Velvet\\Server\\Migrations\\'.$version;
        self::assertTrue(is_a($class, AbstractMigration::class, true));
        $migration = new $class($old, new NullLogger());
        $migration->up(new Schema());
        foreach ($migration->getSql() as $query) {
            $old->executeStatement($query->getStatement());
        }
    }

    /** @return list<string> */
    private static function versions(): array
    {
        return array_map(
            static fn (string $path): string => basename($path, '.php'),
            array_map(strval(...), (array) glob(\dirname(__DIR__).'/migrations/Version*.php')),
        );
    }

    private function before(): Connection
    {
        $url = getenv('VELVET_DATABASE');
        self::assertIsString($url);

        return DriverManager::getConnection(
            ['dbname' => 'velvet_before'] + (new DsnParser(['postgresql' => 'pdo_pgsql']))->parse($url),
        );
    }
}
