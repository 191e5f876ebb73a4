<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Plan\ShelfFolders;

/**
 * Names that are taken in the folders of a shelf: by what lies on its drives, by everything that the ledger ever filed
 * there, though it was deleted since, and by what other intakes are about to file. None of them is given again.
 */
final readonly class GivenNames implements ShelfFolders
{
    /**
     * @param list<string> $roots  absolute: of the shelf and its twin
     * @param int|null     $shelf  null: a shelf that nothing was filed on yet
     * @param int|null     $intake whose own names do not count; null: all count
     */
    public function __construct(
        private Rows $rows,
        private AskedFolders $folders,
        private array $roots,
        private ?int $shelf,
        private ?int $intake,
    ) {
    }

    public function namesIn(string $folder): array
    {
        if (null === $this->shelf) {
            return $this->folders->namesIn($this->roots, $folder);
        }
        // by the order of their bytes, `0` comes next to `/`
        [$from, $to] = '' === $folder ? ['', "\u{10FFFF}"] : [$folder.'/', $folder.'0'];
        $given = $this->rows->all(<<<'SQL'
            SELECT path FROM filed_file WHERE shelf_id = :shelf AND path >= :from AND path < :to
            UNION SELECT raw_path FROM filed_file WHERE shelf_id = :shelf AND raw_path >= :from AND raw_path < :to
            UNION SELECT home_path FROM filed_file WHERE shelf_id = :shelf AND home_path >= :from AND home_path < :to
            UNION SELECT t.target FROM transfer t JOIN intake i ON i.id = t.intake_id
            WHERE i.shelf_id = :shelf AND i.state IN ('waiting', 'running', 'paused') AND i.id IS DISTINCT FROM :intake
                AND t.target >= :from AND t.target < :to
            SQL, ['shelf' => $this->shelf, 'intake' => $this->intake, 'from' => $from, 'to' => $to]);
        $names = array_map(static fn (Row $row): string => substr($row->text('path'), \strlen($from)), $given);

        return array_values(
            array_unique(
                [
                    ...$this->folders->namesIn($this->roots, $folder),
                    ...array_filter($names, static fn (string $name): bool => !str_contains($name, '/')),
                ],
            ),
        );
    }
}
