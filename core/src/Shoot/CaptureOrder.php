<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Capture order: time, parts of a second, camera, path on the card. Frames without a time come last. */
final class CaptureOrder
{
    /**
     * @param list<TimedFrame> $frames
     *
     * @return list<TimedFrame>
     */
    public static function of(array $frames): array
    {
        $keyed = array_map(static fn (TimedFrame $frame): array => [
            null === $frame->capturedAt ? 1 : 0,
            $frame->capturedAt->clock ?? '',
            $frame->capturedAt->milliseconds ?? 0,
            $frame->camera,
            $frame->path,
            $frame->id,
            $frame,
        ], $frames);
        usort($keyed, static fn (array $a, array $b): int => $a[0] <=> $b[0] ?: strcmp($a[1], $b[1]) ?: $a[2] <=> $b[2]
            ?: strcmp($a[3], $b[3]) ?: strnatcmp($a[4], $b[4]) ?: strcmp($a[4], $b[4]) ?: $a[5] <=> $b[5]);

        return array_column($keyed, 6);
    }
}
