<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Fingerprint;

/** What the ledger has filed, found by likeness. */
interface FiledIndex
{
    /** @return list<FiledCopy> every filed file of this fingerprint */
    public function like(Fingerprint $fingerprint): array;
}
