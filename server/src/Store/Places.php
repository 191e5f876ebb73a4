<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Drive\DriveTable;
use Velvet\Server\Rows;

/** The places of shelves: a folder on one drive. The same folder on another drive is another place. */
final readonly class Places
{
    public function __construct(private Connection $database, private Rows $rows, private DriveTable $drives, private ClockInterface $clock)
    {
    }

    /** The place at a root as its drive is connected now; null where nothing is there. */
    public function at(int $shelf, string $root): ?int
    {
        $drive = is_dir($root) ? $this->drives->holding($root) : null;
        if (null === $drive) {
            return null;
        }
        $place = ['shelf' => $shelf, 'root' => $root, 'drive' => $drive->id];
        $known = 'SELECT id FROM place WHERE shelf_id = :shelf AND root = :root AND drive = :drive';
        $row = $this->rows->first($known, $place);
        if (null === $row) {
            $this->database->executeStatement('INSERT INTO place (shelf_id, root, drive, since) VALUES (:shelf, :root, :drive, :at) ON CONFLICT DO NOTHING', $place + ['at' => $this->clock->now()->format('c')]);
            $row = $this->rows->one($known, $place);
        }

        return $row->int('id');
    }
}
