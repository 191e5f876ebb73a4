<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Frames can be set aside, thrown away and brought back: where each is kept, and where its files are on their way to. */
final class Version20261201000001 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            ALTER TABLE filed_frame ADD whereabouts text NOT NULL DEFAULT 'in_shoot'
                CHECK (whereabouts IN ('in_shoot', 'set_aside', 'in_trash', 'deleted', 'forgotten'))
            SQL);
        $this->addSql(<<<'SQL'
            ALTER TABLE filed_file ADD whereabouts text NOT NULL DEFAULT 'in_shoot'
                    CHECK (whereabouts IN ('in_shoot', 'set_aside', 'in_trash', 'deleted', 'forgotten')),
                ADD heading text CHECK (heading IN ('in_shoot', 'set_aside', 'in_trash', 'deleted', 'forgotten')),
                ADD moves_to text, ADD move_note text, ADD home_path text,
                ADD CHECK ((home_path IS NULL) = (whereabouts = 'in_shoot')),
                ADD CHECK (moves_to IS NULL OR heading IS NOT NULL)
            SQL);
        // few are on their way, or lie elsewhere
        $this->addSql('CREATE INDEX filed_file_moving ON filed_file (id) WHERE heading IS NOT NULL');
        $this->addSql('CREATE UNIQUE INDEX filed_file_home ON filed_file (shelf_id, home_path)
            WHERE home_path IS NOT NULL');
        $this->addSql('CREATE UNIQUE INDEX filed_file_moves_to ON filed_file (shelf_id, moves_to)
            WHERE moves_to IS NOT NULL');
        $this->addSql('CREATE INDEX filed_frame_aside ON filed_frame (shoot_id) WHERE whereabouts <> \'in_shoot\'');
    }
}
