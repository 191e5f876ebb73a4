<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\CopyInspection;
use Velvet\Core\Filed\CopySeen;
use Velvet\Core\Filed\FiledCopy;
use Velvet\Core\Filed\FiledIndex;
use Velvet\Server\Store\FiledFiles;

/** The filed files that the database knows. Their copies are looked at before they are handed out. */
final readonly class LedgerIndex implements FiledIndex
{
    public function __construct(private FiledFiles $files, private CopyInspection $copies, private DriveTable $drives)
    {
    }

    public function like(Fingerprint $fingerprint): array
    {
        $filed = $this->files->like($fingerprint);
        $seen = $this->copies->look(array_column($filed, 'id'), true);
        $copies = [];
        foreach ($filed as ['id' => $id, 'path' => $path, 'digest' => $digest, 'roots' => $roots, 'drives' => $known]) {
            $drives = Drives::fromRecord($this->drives, $known);
            // of a drive that is not connected nothing can be said; a shelf that got its twin later lacks the copy
            // there
            $connected = array_values(array_filter($roots, $drives->has(...)));
            $whole = array_map(
                static fn (CopySeen $copy): string => $copy->root,
                array_filter($seen[$id] ?? [], static fn (CopySeen $copy): bool => $copy->isIntact()),
            );
            $copies[] = new FiledCopy(
                $id,
                $path,
                $digest,
                array_values(array_intersect($connected, $whole)),
                array_values(array_diff($connected, $whole)),
            );
        }

        return $copies;
    }
}
