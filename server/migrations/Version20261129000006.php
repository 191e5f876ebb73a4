<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A page asks several times a second how an intake stands: of thousands of files few have notes, or become DNG. */
final class Version20261129000006 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE INDEX filed_file_noted ON filed_file (id)
            WHERE metadata_note IS NOT NULL OR dng_note IS NOT NULL');
        $this->addSql('CREATE INDEX transfer_dng ON transfer (intake_id) WHERE dng IS NOT NULL');
    }
}
