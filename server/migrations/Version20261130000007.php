<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A change that comes a second time, since its answer was not heard, is known again. */
final class Version20261130000007 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE metadata_step ADD operation uuid UNIQUE');
    }
}
