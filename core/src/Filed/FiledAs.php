<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** Where a file is filed: its frame, its shelf and the intake that filed it by their ids, and its path on the shelf. */
final readonly class FiledAs
{
    public function __construct(public int $frame, public int $shelf, public int $intake, public string $path)
    {
    }
}
