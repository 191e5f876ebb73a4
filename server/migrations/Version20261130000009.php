<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What pictures look like, to find tries of one picture; unsaid of those that were measured before. */
final class Version20261130000009 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE measured_picture ADD likeness text');
    }
}
