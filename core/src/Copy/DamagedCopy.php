<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A damaged copy makes room for a good one. */
final class DamagedCopy
{
    private const MOST = 99;

    /**
     * It stays beside the good one, as `name.ext.damaged-1`: nothing is thrown away.
     *
     * @param string $path absolute
     *
     * @throws NameTaken when it does not go
     */
    public static function putAside(string $path): void
    {
        for ($n = 1; $n <= self::MOST; ++$n) {
            $aside = $path.'.damaged-'.$n;
            if (file_exists($aside)) {
                continue;
            }
            if (@link($path, $aside) ? @unlink($path) : ExclusiveRename::move($path, $aside)) {
                return;
            }
        }
        throw NameTaken::by($path);
    }
}
