<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Files that could hold their metadata themselves, and into which nothing can be written: it is in a sidecar. */
final class Version20261129000004 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE filed_file ADD said_beside boolean NOT NULL DEFAULT false');
    }
}
