<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * What a frame's small picture tells: brightness, and the shares of black and clipped pixels. Null until it is drawn.
 */
final class Version20261125000001 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(
            'ALTER TABLE card_frame ADD brightness real CHECK (brightness BETWEEN 0 AND 1), ADD black real CHECK '
                .'(black BETWEEN 0 AND 1), ADD clipped real CHECK (clipped BETWEEN 0 AND 1), ADD CHECK ((brightness '
                .'IS NULL) = (black IS NULL) AND (black IS NULL) = (clipped IS NULL))',
        );
    }
}
