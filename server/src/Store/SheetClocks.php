<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Shoot\Clocks;

/** The corrections of cameras' clocks that a sheet has. */
final readonly class SheetClocks
{
    public function __construct(private Connection $database, private Rows $rows, private JsonRows $jsonRows)
    {
    }

    public function of(int $intake): Clocks
    {
        $seconds = [];
        foreach ($this->rows->all(
            'SELECT camera, seconds FROM sheet_clock WHERE intake_id = :intake',
            ['intake' => $intake],
        ) as $row) {
            $seconds[$row->text('camera')] = $row->int('seconds');
        }

        return new Clocks($seconds);
    }

    /** In place of all that it had. */
    public function set(Intake $intake, Clocks $clocks): void
    {
        $this->database->executeStatement(
            'DELETE FROM sheet_clock WHERE intake_id = :intake',
            ['intake' => $intake->id()],
        );
        $rows = [];
        foreach ($clocks->seconds as $camera => $seconds) {
            if (0 !== $seconds) {
                $rows[] = ['camera' => (string) $camera, 'seconds' => $seconds];
            }
        }
        $this->jsonRows->execute(
            'INSERT INTO sheet_clock (intake_id, camera, seconds) SELECT :intake, camera, seconds
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(camera text, seconds int)',
            $rows,
            ['intake' => $intake->id()],
        );
    }
}
