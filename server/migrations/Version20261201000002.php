<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The page of the ledger shows acts of people beside the intakes: few among very many lines. */
final class Version20261201000002 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("CREATE INDEX ledger_line_acts ON ledger_line (id) WHERE event
            IN ('checked', 'set_aside', 'brought_back', 'thrown_away', 'deleted', 'forgotten')");
    }
}
