<?php

declare(strict_types=1);

namespace Velvet\Server;

/** Quantities in words, as sentences use them. */
final class Words
{
    private const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB'];

    /** Decimal units, as drives and cards are sold (SI; IEC 80000-13). */
    public static function bytes(int $bytes): string
    {
        $value = (float) $bytes;
        for ($unit = 0; $value >= 1000 && $unit < \count(self::UNITS) - 1; ++$unit) {
            $value /= 1000;
        }

        return \sprintf(0 === $unit ? '%d %s' : '%.1f %s', $value, self::UNITS[$unit]);
    }
}
