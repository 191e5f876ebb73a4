<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/** Which drive a folder lies on, now. */
interface DriveTable
{
    /** @param string $path absolute; null where nothing is there */
    public function holding(string $path): ?Drive;
}
