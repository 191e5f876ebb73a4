<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** How large something is, as sentences say it. */
final class Size
{
    private const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB'];

    /** Decimal units, as drives and cards are sold (SI; IEC 80000-13). */
    public static function inWords(int $bytes): string
    {
        $value = (float) $bytes;
        $unit = 0;
        while ($value >= 1000 && $unit < \count(self::UNITS) - 1) {
            $value /= 1000;
            ++$unit;
        }

        return \sprintf(0 === $unit ? '%d %s' : '%.1f %s', $value, self::UNITS[$unit]);
    }
}
