<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Doctrine\DBAL\Connection;
use Velvet\Core\Copy\PartFile;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Rows;

/** When an intake is over and nobody is at work on it, temporary files of workers that died are removed. */
final readonly class Sweeping
{
    private const LOOKS = 8;
    private const BETWEEN = 50_000; // microseconds

    public function __construct(private Connection $database, private Rows $rows, private Locks $locks)
    {
    }

    /** What the names of an intake's temporary files begin with. */
    public static function token(int $intakeId): string
    {
        return "intake-$intakeId-";
    }

    public function ifOver(int $intakeId): void
    {
        if (!$this->isToBeSwept($intakeId) || !$this->isLast($intakeId)) {
            return; // the last one to leave does it
        }
        try {
            foreach ($this->rows->all("SELECT DISTINCT regexp_replace(t.target, '/[^/]*$', '') AS folder, s.root,
                s.twin_root FROM transfer t JOIN intake i ON i.id = t.intake_id
                LEFT JOIN filed_file f ON f.id = t.repairs_file_id JOIN shelf s ON s.id = coalesce(f.shelf_id, i.shelf_id)
                WHERE t.intake_id = :intake", ['intake' => $intakeId]) as $row) {
                foreach (array_filter([$row->text('root'), $row->textOrNull('twin_root')], is_string(...)) as $root) {
                    PartFile::sweep($root.'/'.$row->text('folder'), self::token($intakeId));
                }
            }
            $this->database->executeStatement('UPDATE intake SET swept = true WHERE id = ?', [$intakeId]);
        } finally {
            $this->locks->release(Lock::Intake, $intakeId);
        }
    }

    private function isToBeSwept(int $intakeId): bool
    {
        return $this->rows->one(
            "SELECT state IN ('done', 'stopped') AND NOT swept AS it FROM intake WHERE id = :intake",
            ['intake' => $intakeId],
        )->bool('it');
    }

    /**
     * Whether nobody else is at work on it. One that was killed a moment ago seems to be, until the database notices.
     */
    private function isLast(int $intakeId): bool
    {
        for ($n = 0; $n < self::LOOKS; ++$n) {
            if ($this->locks->isTaken(Lock::Intake, $intakeId)) {
                return true;
            }
            usleep(self::BETWEEN);
            if (!$this->isToBeSwept($intakeId)) {
                break; // the other one did it
            }
        }

        return false;
    }

    /** Intakes that were stopped while nobody was at work on them. */
    public function rest(): void
    {
        foreach ($this->rows->all("SELECT id FROM intake WHERE state IN ('done', 'stopped') AND NOT swept") as $row) {
            $this->ifOver($row->int('id'));
        }
    }
}
