<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** How sharp pictures are where the camera focused; unsaid of those that were measured before. */
final class Version20261201000003 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE measured_picture ADD in_focus real');
    }
}
