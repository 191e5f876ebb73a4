<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Sheets that were opened while there was no shelf had none for ever, whatever shelves were added. */
final class Version20261201000006 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            UPDATE intake SET shelf_id = (SELECT min(id) FROM shelf), revision = revision + 1
            WHERE state = 'sheet' AND shelf_id IS NULL AND EXISTS (SELECT FROM shelf)
            SQL);
    }
}
