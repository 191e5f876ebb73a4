<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * Which raw files become DNG, and how far that is; a file that was converted is its DNG from then on, or has it beside
 * it.
 */
final class Version20261125000008 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach ([
            "ALTER TABLE entry ADD dng text NOT NULL DEFAULT '' CHECK (dng IN ('', 'no', 'beside', 'instead', 'embed'))",
            "ALTER TABLE transfer ADD dng text CHECK (dng IN ('beside', 'instead', 'embed'))",
            // waiting: to be converted; leaving: the DNG is filed, the raw file's copies are to go; returning: the raw file is to be taken out of it
            <<<'SQL'
            ALTER TABLE filed_file
                ADD dng_state text NOT NULL DEFAULT 'none' CHECK (dng_state IN ('none', 'waiting', 'leaving', 'returning', 'made', 'refused')),
                ADD dng_choice text CHECK (dng_choice IN ('beside', 'instead', 'embed')),
                ADD dng_note text,
                ADD samples char(32),
                ADD raw_path text,
                ADD made_from bigint REFERENCES filed_file,
                ADD CHECK ((dng_state = 'none') = (dng_choice IS NULL)),
                ADD CHECK ((dng_state = 'refused') = (dng_note IS NOT NULL))
            SQL,
            "CREATE INDEX filed_file_dng ON filed_file (id) WHERE dng_state IN ('waiting', 'leaving', 'returning')",
            'CREATE INDEX transfer_filed_file ON transfer (filed_file_id)',
            'CREATE INDEX filed_file_made_from ON filed_file (made_from)',
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
