<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Edits that were done, by the keys under which they were asked for. */
final class Version20261201000005 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE answered_edit (
                intake_id bigint NOT NULL REFERENCES intake ON DELETE CASCADE,
                key text NOT NULL,
                answered_at timestamp(0) with time zone NOT NULL,
                PRIMARY KEY (intake_id, key)
            )
            SQL);
    }
}
