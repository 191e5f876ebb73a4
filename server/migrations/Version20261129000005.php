<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Which frames of a card are left out is asked with every edit of a sheet: few are, of thousands. */
final class Version20261129000005 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE INDEX card_frame_left_out ON card_frame (card_id) WHERE left_out');
    }
}
