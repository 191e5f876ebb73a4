<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * What a file on its way is about to place, so that after a crash its own file is told from another one; and the files
 * that are still to do in the order in which they are claimed.
 */
final class Version20261129000003 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE transfer ADD to_place char(32)');
        $this->addSql(<<<'SQL'
            CREATE INDEX transfer_to_do ON transfer (intake_id, tries, equals, id)
                WHERE state IN ('planned', 'copying', 'verifying')
            SQL);
        $this->addSql('CREATE INDEX transfer_frame ON transfer (intake_id, frame_key)');
    }
}
