<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** When all seals of the ledger were last computed anew, and up to which line. */
final class Version20261129000002 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE ledger_check (
                one boolean PRIMARY KEY DEFAULT true CHECK (one),
                at timestamptz NOT NULL,
                line_id bigint NOT NULL,
                lines bigint NOT NULL CHECK (lines > 0),
                seal char(64) NOT NULL
            )
            SQL);
    }
}
