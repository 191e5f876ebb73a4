<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The strays around a time-lapse may go into a folder of their own. */
final class Version20261130000003 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE entry ADD COLUMN strays boolean NOT NULL DEFAULT false');
    }
}
