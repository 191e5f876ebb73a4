<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Frames have a verdict of the first look, and what was undone can be made again. */
final class Version20261130000006 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(
            "ALTER TABLE filed_frame ADD verdict text NOT NULL DEFAULT 'open'
                CHECK (verdict IN ('kept', 'struck', 'open'))",
        );
        $this->addSql('ALTER TABLE metadata_step ADD after jsonb');
    }
}
