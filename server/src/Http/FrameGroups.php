<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\PlannedEntry;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Server\Store\SheetFrame;

/**
 * Groups of an entry's frames that can be selected at one stroke: by day, kind, camera, by what they look like and what
 * becomes of them.
 */
final class FrameGroups
{
    /**
     * @param list<SheetFrame> $frames
     *
     * @return list<array{by: string, of: string, positions: list<int>}> a group of all frames is none
     */
    public static function in(array $frames, PlannedEntry $planned, DayBoundary $boundary): array
    {
        $groups = [];
        foreach ($frames as $position => $frame) {
            $time = $frame->capturedAt();
            $groups['day'][null === $time ? '' : $boundary->dayOf($time)->text()][] = $position;
            $groups['kinds'][$frame->kinds()][] = $position;
            $groups['camera'][$frame->frame->naming->camera][] = $position;
            $groups['card'][$frame->frame->naming->cardLabel][] = $position;
            $looks = [
                'black' => $frame->measures?->looksBlack(),
                'blown_out' => $frame->measures?->looksBlownOut(),
                'blurred' => $frame->measures?->looksBlurred(),
            ];
            foreach ($looks as $look => $has) {
                if (true === $has) {
                    $groups['looks'][$look][] = $position;
                }
            }
            $groups['state'][$planned->frames[$position]->state()->value][] = $position;
        }
        $found = [];
        foreach ($groups as $by => $values) {
            foreach ($values as $of => $positions) {
                if (\count($positions) < \count($frames) || ('state' === $by && FrameState::New->value !== $of)) {
                    $found[] = ['by' => $by, 'of' => (string) $of, 'positions' => $positions];
                }
            }
        }

        return $found;
    }
}
