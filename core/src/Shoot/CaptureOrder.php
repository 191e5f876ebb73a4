<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/**
 * Capture order: time, parts of a second, camera, original number, path on the card. Frames without a time come last.
 */
final class CaptureOrder
{
    /**
     * @param list<TimedFrame> $frames
     *
     * @return list<TimedFrame>
     */
    public static function of(array $frames): array
    {
        $moments = [];
        foreach ($frames as $frame) {
            $moments[self::moment($frame)][] = $frame;
        }
        ksort($moments, \SORT_STRING);
        $ordered = [];
        foreach ($moments as $together) {
            array_push($ordered, ...(1 === \count($together) ? $together : self::ofOneMoment($together)));
        }

        return $ordered;
    }

    /** Sorts as text: undated frames last, then the wall clock, then the camera. */
    private static function moment(TimedFrame $frame): string
    {
        $time = $frame->capturedAt;

        return \sprintf(
            '%s%s.%03d %s',
            null === $time ? 'z' : 'a',
            $time->clock ?? '',
            $time->milliseconds ?? 0,
            $frame->camera,
        );
    }

    /**
     * Frames that one camera took in one moment: by their original numbers, the counter's roll-over from 9999 to 0001
     * seen through, then by their paths as people count: T9 before T10.
     *
     * @param non-empty-list<TimedFrame> $frames
     *
     * @return list<TimedFrame>
     */
    private static function ofOneMoment(array $frames): array
    {
        $numbers = array_map(
            static fn (TimedFrame $frame): OriginalNumber => OriginalNumber::of($frame->path),
            $frames,
        );
        $inFolder = [];
        foreach ($numbers as $number) {
            if (null !== $number->file) {
                $inFolder[$number->folder ?? 0][] = $number->file;
            }
        }
        $rollOvers = array_map(OriginalNumber::rollOver(...), $inFolder);
        $keyed = [];
        foreach ($frames as $i => $frame) {
            $folder = $numbers[$i]->folder ?? 0;
            $keyed[] = [[$folder, $numbers[$i]->unrolled($rollOvers[$folder] ?? 0) ?? \PHP_INT_MAX], $frame];
        }
        usort($keyed, static function (array $a, array $b): int {
            $order = $a[0] <=> $b[0];
            $order = 0 === $order ? strnatcmp($a[1]->path, $b[1]->path) : $order;

            return 0 === $order ? [$a[1]->path, $a[1]->id] <=> [$b[1]->path, $b[1]->id] : $order;
        });

        return array_column($keyed, 1);
    }
}
