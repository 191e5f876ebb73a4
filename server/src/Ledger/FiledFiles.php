<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Duplicate\FiledCopy;
use Velvet\Core\Duplicate\FiledIndex;
use Velvet\Core\Duplicate\Fingerprint;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** The filed files that the database knows. */
final readonly class FiledFiles implements FiledIndex
{
    public function __construct(private Rows $rows)
    {
    }

    public function like(Fingerprint $fingerprint): array
    {
        return array_map(static function (Row $row): FiledCopy {
            $path = $row->text('path');
            $places = [$row->text('root').'/'.$path];
            if (null !== $row->textOrNull('twin_root')) {
                $places[] = $row->text('twin_root').'/'.$path;
            }

            return new FiledCopy($row->int('id'), $path, $row->int('bytes'), Digest::fromHex($row->text('digest')), $places);
        }, $this->rows->all(
            'SELECT f.id, f.path, f.bytes, f.digest, s.root, CASE WHEN f.has_twin THEN s.twin_root END AS twin_root FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE f.fingerprint = :fingerprint ORDER BY f.id',
            ['fingerprint' => $fingerprint->hex],
        ));
    }
}
