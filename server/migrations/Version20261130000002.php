<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A shoot may belong to a trip, which may be a level of its folders. */
final class Version20261130000002 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE entry ADD COLUMN trip text NOT NULL DEFAULT ''");
    }
}
