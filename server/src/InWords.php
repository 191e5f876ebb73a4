<?php

declare(strict_types=1);

namespace Velvet\Server;

use Velvet\Core\Card\FileKind;

/** Quantities in words, as sentences use them. */
final class InWords
{
    private const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB'];

    /**
     * Kinds of stills as photographers write them: raw, JPEG.
     *
     * @param array<mixed> $kinds values of {@see FileKind}
     *
     * @return list<string>
     */
    public static function kinds(array $kinds): array
    {
        $words = [];
        foreach ($kinds as $kind) {
            if (\is_string($kind) && true === FileKind::tryFrom($kind)?->isStill()) {
                $words[] = FileKind::Raw->value === $kind ? 'raw' : strtoupper($kind);
            }
        }
        rsort($words);

        return array_values(array_unique($words));
    }

    /** Decimal units, as drives and cards are sold (SI; IEC 80000-13). */
    public static function bytes(int $bytes): string
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
