<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Who judged a frame, where it was said, and what others say of it beside that. */
final class Version20261201000004 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE filed_frame ADD judged_by text');
        $this->addSql(<<<'SQL'
            CREATE TABLE mark (
                frame_id bigint NOT NULL REFERENCES filed_frame ON DELETE CASCADE,
                judged_by text NOT NULL CHECK (judged_by <> ''),
                verdict text NOT NULL CHECK (verdict IN ('kept', 'struck', 'open')),
                rating smallint CHECK (rating BETWEEN 0 AND 5),
                PRIMARY KEY (frame_id, judged_by)
            )
            SQL);
    }
}
