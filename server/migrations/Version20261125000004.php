<?php

declare(strict_types=1);

namespace Velvet\Server\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A file's steps with who is at work on it; duplicates on one sheet; repairs; what stopped an intake; what a check
 * found on the shelves.
 */
final class Version20261125000004 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach ([
            'ALTER TABLE transfer DROP CONSTRAINT transfer_state_check, DROP CONSTRAINT transfer_check, DROP '
                .'CONSTRAINT transfer_check1, DROP CONSTRAINT transfer_intake_id_target_key',
            <<<'SQL'
            ALTER TABLE transfer
                ADD tries smallint NOT NULL DEFAULT 0 CHECK (tries >= 0),
                ADD worker text,
                ADD backend_pid int,
                ADD backend_start timestamptz,
                ADD lease_until timestamptz,
                ADD second_digest text,
                ADD equals boolean NOT NULL DEFAULT false,
                ADD repairs_file_id bigint REFERENCES filed_file,
                ADD CONSTRAINT transfer_state_check CHECK (state IN ('planned', 'copying', 'verifying', 'filed', 'same', 'failed')),
                ADD CONSTRAINT transfer_digest_check CHECK ((state IN ('filed', 'same')) = (digest IS NOT NULL)),
                ADD CONSTRAINT transfer_failure_check CHECK ((state = 'failed') = (failure IS NOT NULL)),
                ADD CONSTRAINT transfer_worker_check CHECK ((state IN ('copying', 'verifying')) = (worker IS NOT NULL AND lease_until IS NOT NULL))
            SQL,
            "CREATE UNIQUE INDEX transfer_target ON transfer (intake_id, coalesce(repairs_file_id, 0), target) WHERE NOT equals AND state <> 'failed'",
            'CREATE INDEX transfer_equal ON transfer (intake_id, target)',
            <<<'SQL'
            ALTER TABLE intake
                ADD halted text,
                ADD awaits text,
                ADD drives jsonb NOT NULL DEFAULT '{}',
                ADD swept boolean NOT NULL DEFAULT false,
                ADD CONSTRAINT intake_halted_check CHECK (halted IS NULL OR state = 'paused')
            SQL,
            'ALTER TABLE skipped DROP CONSTRAINT skipped_state_check',
            "ALTER TABLE skipped ADD CONSTRAINT skipped_state_check CHECK (state IN ('filed', 'left_out', 'unreadable', 'failed'))",
            'ALTER TABLE filed_file ADD second_digest text, ADD damaged_on_shelf boolean NOT NULL DEFAULT false, ADD '
                .'damaged_on_twin boolean NOT NULL DEFAULT false, ADD checked_at timestamptz',
            'ALTER TABLE card_file ADD repairs_file_id bigint REFERENCES filed_file',
            'ALTER TABLE card_frame ADD let_go boolean NOT NULL DEFAULT false',
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
