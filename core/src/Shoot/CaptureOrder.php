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
            [null === $frame->capturedAt ? 1 : 0, $frame->capturedAt->clock ?? '', $frame->capturedAt->milliseconds ?? 0, $frame->camera],
            $frame,
        ], $frames);
        usort($keyed, static function (array $a, array $b): int {
            $order = $a[0] <=> $b[0];
            if (0 === $order) { // paths as people count: T9 before T10
                $order = strnatcmp($a[1]->path, $b[1]->path);
            }

            return 0 === $order ? [$a[1]->path, $a[1]->id] <=> [$b[1]->path, $b[1]->id] : $order;
        });

        return array_column($keyed, 1);
    }
}
