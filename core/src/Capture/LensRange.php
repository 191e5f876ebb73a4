<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** A lens by its shortest and longest focal length and its f-numbers there, where it has no name. */
final class LensRange
{
    /**
     * @param list<array{int, int}> $ratios as in EXIF 2.32, LensSpecification: 0/0 where unknown
     *
     * @return string|null `24–70 mm f/2.8`
     */
    public static function of(array $ratios): ?string
    {
        $parts = array_map(
            static fn (array $ratio): float => 0 === $ratio[1] ? 0.0 : $ratio[0] / $ratio[1],
            $ratios,
        );
        if (4 !== \count($parts) || $parts[0] <= 0 || $parts[1] < $parts[0] || $parts[1] > 20_000) {
            return null;
        }
        $range = static fn (float $a, float $b): string => $a === $b || $b <= 0
            ? \sprintf('%g', $a)
            : \sprintf('%g–%g', $a, $b);

        return $range($parts[0], $parts[1]).' mm'.($parts[2] > 0 ? ' f/'.$range($parts[2], $parts[3]) : '');
    }
}
