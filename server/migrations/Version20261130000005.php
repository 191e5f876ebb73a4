<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What a small picture tells is kept by the picture: it is known of filed frames too, when their card is gone. */
final class Version20261130000005 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE measured_picture (
                picture text PRIMARY KEY,
                brightness real NOT NULL CHECK (brightness BETWEEN 0 AND 1),
                black real NOT NULL CHECK (black BETWEEN 0 AND 1),
                clipped real NOT NULL CHECK (clipped BETWEEN 0 AND 1),
                sharpness real CHECK (sharpness BETWEEN 0 AND 1)
            )
            SQL);
        $this->addSql(<<<'SQL'
            INSERT INTO measured_picture
                SELECT DISTINCT ON (picture) picture, brightness, black, clipped, sharpness FROM card_frame
                WHERE picture IS NOT NULL AND brightness IS NOT NULL
            SQL);
        $this->addSql(
            'ALTER TABLE card_frame DROP brightness, DROP black, DROP clipped, DROP sharpness',
        );
    }
}
