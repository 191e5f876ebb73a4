<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** A filed file by its number in the ledger, and where it lies. */
final readonly class FiledAt
{
    /** @param string $path relative to its shelf */
    public function __construct(public int $fileId, public string $path)
    {
    }
}
