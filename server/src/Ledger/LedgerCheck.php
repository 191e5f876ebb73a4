<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Receipt\DriveCheck;
use Velvet\Core\Transfer\DriveCache;
use Velvet\Core\Transfer\MountPoint;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** Checks what is filed against the ledger, and remembers what is missing or changed: the next time its card is there, it is repaired. */
final readonly class LedgerCheck
{
    public function __construct(private Rows $rows, private Connection $database, private DriveCache $cache, private Ledger $ledger, private ClockInterface $clock)
    {
    }

    /**
     * @param string|null           $what   a shoot's name or folder, or a shelf's name or root; null: everything
     * @param \Closure(string): void $onFile told of each file before it is read
     *
     * @throws NothingFiled
     */
    public function of(?string $what, \Closure $onFile): DriveCheck
    {
        $check = new DriveCheck($this->cache);
        $last = 0;
        $folders = [];
        while ([] !== $page = $this->page($what, $last)) {
            foreach ($page as $row) {
                $last = $row->int('id');
                $found = [];
                foreach (['shelf' => $row->text('root'), 'twin' => $row->bool('has_twin') ? $row->textOrNull('twin_root') : null] as $role => $root) {
                    if (null === $root) {
                        continue;
                    }
                    $mountPoint = $row->json('mount_points')[$root] ?? null;
                    if (!MountPoint::has($root, \is_string($mountPoint) ? $mountPoint : null)) {
                        $check->away($root);
                        continue;
                    }
                    $path = $root.'/'.$row->text('path');
                    $folders[$root.'/'.$row->text('folder')] = true;
                    $onFile($path);
                    if (null !== $sidecar = $row->textOrNull('sidecar_path')) {
                        $check->file($root.'/'.$sidecar, $row->int('sidecar_bytes'), Digest::fromHex($row->text('sidecar_digest')));
                    }
                    $found[$role] = 'good' !== $check->file($path, $row->int('bytes'), Digest::fromHex($row->text('digest')));
                }
                $this->remember($row, $found);
            }
        }
        if (0 === $last) {
            throw NothingFiled::under($what ?? '');
        }
        array_map($check->folder(...), array_keys($folders));
        $this->ledger->write('checked', ['what' => $what ?? 'everything', 'checked' => $check->checked, 'good' => $check->good, 'changed' => \count($check->changed), 'missing' => \count($check->missing)]);

        return $check;
    }

    /** @return list<Row> */
    private function page(?string $what, int $after): array
    {
        return $this->rows->all(<<<'SQL'
            SELECT f.id, f.path, coalesce(f.bytes_now, f.bytes) AS bytes, coalesce(f.digest_now, f.digest) AS digest, f.sidecar_path, f.sidecar_bytes, f.sidecar_digest, f.has_twin, f.damaged_on_shelf, f.damaged_on_twin, s.root, s.twin_root, s.mount_points, o.folder
            FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id JOIN shoot o ON o.id = r.shoot_id JOIN shelf s ON s.id = f.shelf_id
            WHERE f.id > :after AND (CAST(:what AS text) IS NULL OR :what IN (o.name, o.folder, s.name, s.root, s.root || '/' || o.folder)) ORDER BY f.id LIMIT 2000
            SQL, ['after' => $after, 'what' => $what]);
    }

    /** @param array<string, bool> $found whether it is damaged, by place */
    private function remember(Row $row, array $found): void
    {
        $shelf = $found['shelf'] ?? $row->bool('damaged_on_shelf');
        $twin = $found['twin'] ?? $row->bool('damaged_on_twin');
        $this->database->executeStatement('UPDATE filed_file SET damaged_on_shelf = :shelf, damaged_on_twin = :twin, checked_at = :at WHERE id = :id', ['shelf' => $shelf ? 'true' : 'false', 'twin' => $twin ? 'true' : 'false', 'at' => $this->clock->now()->format('c'), 'id' => $row->int('id')]);
    }
}
