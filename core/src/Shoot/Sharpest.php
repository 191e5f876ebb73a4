<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Which frame of a run has the sharpest edges: where the camera focused, if that is known of all of them. */
final class Sharpest
{
    /**
     * @param array<int, float|null> $sharpness by position, as pictures of one size were measured
     * @param array<int, float|null> $inFocus   of the same, where the camera focused
     *
     * @return int|null its position, the first of equals; null where a frame is not measured: it may be that one
     */
    public static function of(array $sharpness, array $inFocus = []): ?int
    {
        if ([] !== $inFocus && !\in_array(null, $inFocus, true)) {
            $sharpness = $inFocus;
        }
        $sharpest = null;
        foreach ($sharpness as $position => $measured) {
            if (null === $measured) {
                return null;
            }
            if (null === $sharpest || $measured > $sharpness[$sharpest]) {
                $sharpest = $position;
            }
        }

        return $sharpest;
    }
}
