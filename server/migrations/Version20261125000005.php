<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * What is known of frames that were skipped; where a shelf's drives are mounted; a file's lines in the ledger found by
 * where it came from.
 */
final class Version20261125000005 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach ([
            "ALTER TABLE skipped ADD facts jsonb NOT NULL DEFAULT '{}'",
            "ALTER TABLE shelf ADD mount_points jsonb NOT NULL DEFAULT '{}'",
            "CREATE INDEX ledger_line_from ON ledger_line (((details::jsonb) ->> 'from'))",
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
