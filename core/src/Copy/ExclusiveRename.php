<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Drive\LibC;

/** `renameat2` with `RENAME_NOREPLACE` (Linux): a rename that fails where the new name exists. */
final class ExclusiveRename
{
    private const AT_FDCWD = -100;
    private const RENAME_NOREPLACE = 1;

    public static function move(string $from, string $to): bool
    {
        $ffi = LibC::ffi();

        return null !== $ffi
            && 0 === $ffi->renameat2(self::AT_FDCWD, $from, self::AT_FDCWD, $to, self::RENAME_NOREPLACE);
    }
}
