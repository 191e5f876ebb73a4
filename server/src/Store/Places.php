<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;

/** The places of shelves: a folder on one drive. The same folder on another drive is another place. */
final readonly class Places
{
    public function __construct(
        private Connection $database,
        private Rows $rows,
        private DriveTable $drives,
        private ClockInterface $clock,
    ) {
    }

    /** The place at a root as its drive is connected now; null where nothing is there. */
    public function at(int $shelf, string $root): ?int
    {
        $drive = $this->driveAt($root);

        return null === $drive ? null : $this->on($drive->id, $shelf, $root);
    }

    /** @param string $drive that lies at the root, or did, as {@see Drive::$id} */
    public function on(string $drive, int $shelf, string $root): int
    {
        $place = ['shelf' => $shelf, 'root' => $root, 'drive' => $drive];
        $known = 'SELECT id FROM place WHERE shelf_id = :shelf AND root = :root AND drive = :drive';
        $row = $this->rows->first($known, $place);
        if (null === $row) {
            $this->database->executeStatement(
                'INSERT INTO place (shelf_id, root, drive, since) VALUES (:shelf, :root, :drive, :at)
                    ON CONFLICT DO NOTHING',
                $place + ['at' => $this->clock->now()->format('c')],
            );
            $row = $this->rows->one($known, $place);
        }

        return $row->int('id');
    }

    /**
     * @return non-empty-list<int> the places whose drives are connected now, and that their shelves have; 0 stands for
     * none
     */
    public function connected(): array
    {
        $connected = [0];
        foreach ($this->ofShelves() as $row) {
            if ($row->text('drive') === $this->driveAt($row->text('root'))?->id) {
                $connected[] = $row->int('id');
            }
        }

        return $connected;
    }

    /** Whether two connected places of a shelf lie on drives that have nothing in common. */
    public function areApart(int $shelf): bool
    {
        $drives = [];
        foreach ($this->ofShelves() as $row) {
            $drive = $row->int('shelf_id') === $shelf ? $this->driveAt($row->text('root')) : null;
            $drives = null === $drive ? $drives : [...$drives, $drive];
        }
        foreach ($drives as $one) {
            foreach ($drives as $other) {
                if ($one->isApartFrom($other)) {
                    return true;
                }
            }
        }

        return false;
    }

    /** @return list<Row> */
    private function ofShelves(): array
    {
        return $this->rows->all(
            'SELECT p.id, p.shelf_id, p.root, p.drive FROM place p JOIN shelf s ON s.id = p.shelf_id
                WHERE p.root IN (s.root, s.twin_root) ORDER BY p.id',
        );
    }

    private function driveAt(string $root): ?Drive
    {
        return is_dir($root) ? $this->drives->holding($root) : null;
    }
}
