<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Keywords are found by their names, wherever they lie. */
final class Version20261129000001 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE INDEX keyword_folded ON keyword (folded)');
    }
}
