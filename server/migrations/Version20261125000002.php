<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * How sharp a frame looks, where it has edges enough to tell; and how much a card holds, where it is a file system of
 * its own.
 */
final class Version20261125000002 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE card_frame ADD sharpness real CHECK (sharpness BETWEEN 0 AND 1)');
        $this->addSql('ALTER TABLE card ADD capacity bigint CHECK (capacity > 0)');
        // pictures measured before are measured again when their card is read
        $this->addSql('UPDATE card_frame SET brightness = NULL, black = NULL, clipped = NULL');
    }
}
