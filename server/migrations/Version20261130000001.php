<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A card's files of no frame are taken together as one, so that they are copied and proven as all others are. */
final class Version20261130000001 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (['card_frame', 'transfer', 'filed_frame'] as $table) {
            $this->addSql("ALTER TABLE $table ADD COLUMN loose boolean NOT NULL DEFAULT false");
        }
    }
}
