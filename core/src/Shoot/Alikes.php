<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\Likeness;

/** Neighbours that show nearly the same, though the camera did not take them in a burst: tries of one picture. */
final class Alikes
{
    /** Milliseconds from frame to frame. Whoever tries again does it soon. */
    private const SOON = 60_000;

    /**
     * @param list<Likeness|null> $likenesses of frames in capture order; null where a picture is not measured, and
     *                                        where a frame is in a group of another kind
     * @param list<int|null>      $ticks      when each was taken, in milliseconds
     * @param list<string>        $cameras    only frames of one camera are tries of one picture
     *
     * @return list<non-empty-list<int>> positions of two or more each
     */
    public static function in(array $likenesses, array $ticks, array $cameras): array
    {
        $runs = $latest = [];
        foreach ($likenesses as $position => $likeness) {
            [$before, $run] = $latest[$cameras[$position]] ?? [null, null];
            $goesOn = null !== $before
                && self::isSoon($ticks[$before], $ticks[$position])
                && self::areAlike($likenesses[$before], $likeness)
                // many small steps lead far: all of a run are like its first
                && (null === $run || self::areAlike($likenesses[$runs[$run][0]], $likeness));
            if ($goesOn) {
                $run ??= \count($runs);
                $runs[$run] ??= [$before];
                $runs[$run][] = $position;
            }
            $latest[$cameras[$position]] = [$position, $goesOn ? $run : null];
        }

        return $runs;
    }

    private static function isSoon(?int $before, ?int $after): bool
    {
        return null !== $before && null !== $after && $after - $before <= self::SOON;
    }

    private static function areAlike(?Likeness $one, ?Likeness $other): bool
    {
        return null !== $one && null !== $other && $one->isLike($other);
    }
}
