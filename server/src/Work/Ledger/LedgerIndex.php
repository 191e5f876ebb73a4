<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\CopySeen;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\FiledCopy;
use Velvet\Core\Filed\FiledIndex;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/** The filed files that the database knows. Their copies are looked at before they are handed out. */
final readonly class LedgerIndex implements FiledIndex
{
    public function __construct(private Rows $rows, private Copies $copies, private DriveTable $drives)
    {
    }

    public function like(Fingerprint $fingerprint): array
    {
        // a file whose picture another program replaced is not what was received any more
        $rows = $this->rows->all(
            'SELECT f.id, f.path, f.digest, s.root, s.twin_root, s.drives
                FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE f.fingerprint = :fingerprint
                AND NOT f.picture_replaced ORDER BY f.id',
            ['fingerprint' => $fingerprint->hex],
        );
        $copies = $this->copies->look(array_map(static fn (Row $row): int => $row->int('id'), $rows), true);

        return array_map(fn (Row $row): FiledCopy => $this->copy($row, $copies[$row->int('id')] ?? []), $rows);
    }

    /** @param list<CopySeen> $copies */
    private function copy(Row $row, array $copies): FiledCopy
    {
        $drives = Drives::fromRecord($this->drives, $row->json('drives'));
        // of a drive that is not connected nothing can be said; a shelf that got its twin later lacks the copy there
        $connected = array_values(
            array_filter(
                [$row->text('root'), $row->textOrNull('twin_root')],
                static fn (?string $root): bool => null !== $root && $drives->has($root),
            ),
        );
        $whole = array_map(
            static fn (CopySeen $copy): string => $copy->root,
            array_filter(
                $copies,
                static fn (CopySeen $copy): bool => CopyStanding::Whole === $copy->standing
                    || CopyStanding::BeingWritten === $copy->standing,
            ),
        );
        $roots = array_values(array_filter($connected, is_string(...)));

        return new FiledCopy(
            $row->int('id'),
            $row->text('path'),
            Digest::fromHex($row->text('digest')),
            $roots,
            array_values(array_diff($roots, $whole)),
        );
    }
}
