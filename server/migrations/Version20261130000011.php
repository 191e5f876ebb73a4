<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Changes of a shoot's frames are numbered, so that a page knows which of two things it hears is the later. */
final class Version20261130000011 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE shoot ADD turn int NOT NULL DEFAULT 0');
    }
}
