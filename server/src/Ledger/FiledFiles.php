<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Duplicate\FiledCopy;
use Velvet\Core\Duplicate\FiledIndex;
use Velvet\Core\Duplicate\Fingerprint;
use Velvet\Core\Transfer\MountPoint;
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
        return array_map(
            static function (Row $row): FiledCopy {
                [$root, $twin] = [$row->text('root'), $row->textOrNull('twin_root')];
                // a shelf that got its twin later lacks the copy there
                $damaged = array_values(array_filter([$row->bool('damaged_on_shelf') ? $root : null, $row->bool('damaged_on_twin') ? $twin : null], is_string(...)));

                // of a drive that is not connected nothing can be said
                $connected = array_values(array_filter([$root, $twin], static function (?string $place) use ($row): bool {
                    $mountPoint = $row->json('mount_points')[$place ?? ''] ?? null;

                    return null !== $place && MountPoint::has($place, \is_string($mountPoint) ? $mountPoint : null);
                }));

                return new FiledCopy($row->int('id'), $row->text('path'), $row->int('bytes'), Digest::fromHex($row->text('digest')), array_values(array_filter($connected, is_string(...))), $damaged);
            },
            $this->rows->all(
                'SELECT f.id, f.path, coalesce(f.bytes_now, f.bytes) AS bytes, f.digest, s.root, s.twin_root, s.mount_points, f.damaged_on_shelf, f.damaged_on_twin FROM filed_file f JOIN shelf s ON s.id = f.shelf_id WHERE f.fingerprint = :fingerprint ORDER BY f.id',
                ['fingerprint' => $fingerprint->hex],
            ),
        );
    }
}
