<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What is to be written into each copy, and what the copies contain since: as received, and as filed. */
final class Version20261125000006 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach ([
            <<<'SQL'
            ALTER TABLE transfer
                ADD metadata jsonb,
                ADD metadata_state text NOT NULL DEFAULT 'none' CHECK (metadata_state IN ('none', 'waiting', 'written', 'refused')),
                ADD metadata_note text,
                ADD metadata_digest char(32),
                ADD metadata_bytes bigint,
                ADD metadata_second text,
                ADD CHECK ((metadata_state = 'none') = (metadata IS NULL))
            SQL,
            "CREATE INDEX transfer_metadata ON transfer (intake_id) WHERE metadata_state = 'waiting'",
            'ALTER TABLE filed_file ADD digest_now char(32), ADD bytes_now bigint, ADD second_now text, ADD '
                .'sidecar_path text, ADD sidecar_digest char(32), ADD sidecar_bytes bigint, ADD CHECK ((digest_now IS '
                .'NULL) = (bytes_now IS NULL))',
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
