<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A sheet counts its edits, so that a page knows which of its own an answer holds. */
final class Version20261130000004 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE intake ADD COLUMN revision integer NOT NULL DEFAULT 0');
    }
}
