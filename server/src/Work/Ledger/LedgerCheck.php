<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Psr\Clock\ClockInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Ledger\DriveCheck;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledPlaces;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Checks what is filed against the ledger, and remembers what is missing or changed: the next time its card is there,
 * it is repaired.
 */
final readonly class LedgerCheck
{
    public function __construct(
        private Rows $rows,
        private FiledFiles $files,
        private DriveCache $cache,
        private Ledger $ledger,
        private ClockInterface $clock,
        private FiledCopies $copies,
        private DriveTable $drives,
    ) {
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
                $places = FiledPlaces::of($row, $this->drives);
                $inodes = [];
                foreach ($places->roots as $root) {
                    if (!\in_array($root, $places->connected, true) && !$places->drives->lacks($root)) {
                        $check->away($root);
                        continue;
                    }
                    $path = $root.'/'.$row->text('path');
                    $folders[$root.'/'.$row->text('folder')] = true;
                    $onFile($path);
                    $inode = FileStamp::of($path)->inode ?? '';
                    if (isset($inodes[$inode])) {
                        $check->linked($path);
                        $this->remember($row, $root, 'missing');
                        continue;
                    }
                    $inodes += '' === $inode ? [] : [$inode => true];
                    if (null !== $sidecar = $row->textOrNull('sidecar_path')) {
                        $check->file(
                            $root.'/'.$sidecar,
                            $row->int('sidecar_bytes'),
                            Digest::fromHex($row->text('sidecar_digest')),
                        );
                    }
                    $this->remember(
                        $row,
                        $root,
                        $check->file($path, $row->int('bytes'), Digest::fromHex($row->text('digest'))),
                    );
                }
                $this->files->change($last, fn (FiledFile $file) => $file->checked($this->clock->now()));
            }
        }
        if (0 === $last) {
            throw NothingFiled::under($what ?? '');
        }
        array_map($check->folder(...), array_keys($folders));
        $this->ledger->write(
            'checked',
            [
                'what' => $what ?? 'everything',
                'checked' => $check->checked,
                'good' => $check->good,
                'changed' => \count($check->changed),
                'missing' => \count($check->missing),
            ],
        );

        return $check;
    }

    /** @return list<Row> */
    private function page(?string $what, int $after): array
    {
        return $this->rows->all(
            'SELECT f.id, f.path, f.shelf_id, coalesce(f.bytes_now, f.bytes) AS bytes, coalesce(f.digest_now,
                f.digest) AS digest, f.sidecar_path, f.sidecar_bytes, f.sidecar_digest, o.folder, '.FiledPlaces::COLUMNS.<<<'SQL'
                 FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id JOIN shoot o ON o.id = r.shoot_id
                     JOIN shelf s ON s.id = f.shelf_id
                WHERE f.id > :after AND (CAST(:what AS text) IS NULL
                    OR :what IN (o.name, o.folder, s.name, s.root, s.root || '/' || o.folder)) ORDER BY f.id LIMIT 2000
                SQL,
            ['after' => $after, 'what' => $what],
        );
    }

    /** @param 'good'|'changed'|'missing' $found */
    private function remember(Row $row, string $root, string $found): void
    {
        if ('good' === $found) {
            $this->copies->verified(
                $row->int('id'),
                $row->int('shelf_id'),
                [$root],
                $row->text('path'),
                Digest::fromHex($row->text('digest')),
                $row->int('bytes'),
            );
        } else {
            $this->copies->foundAt(
                $row->int('id'),
                $row->int('shelf_id'),
                $root,
                CopyStanding::from($found),
                $row->text('digest'),
            );
        }
    }
}
