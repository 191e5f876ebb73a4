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
        // what would be rounded to a thousand is one of the next unit
        while ($value >= (0 === $unit ? 1000 : 999.95) && $unit < \count(self::UNITS) - 1) {
            $value /= 1000;
            ++$unit;
        }

        return 1 === $bytes ? '1 byte' : \sprintf(0 === $unit ? '%d %s' : '%.1f %s', $value, self::UNITS[$unit]);
    }
}
