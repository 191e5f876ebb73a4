<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Capture\Orientation;

/** What was read of a frame, as the browser shows it. */
final class FactsView
{
    /** @param array<mixed> $facts as {@see \Velvet\Core\Capture\CaptureFacts::toArray()} gave them */
    public static function of(array $facts): object
    {
        [$x, $y] = \is_array($facts['focus'] ?? null) ? $facts['focus'] + [null, null] : [null, null];
        if (is_numeric($x) && is_numeric($y)) {
            $orientation = $facts['orientation'] ?? null;
            $shown = Orientation::tryFrom(\is_int($orientation) ? $orientation : 1) ?? Orientation::AsStored;
            $facts['focus'] = $shown->place([(float) $x, (float) $y]);
        }

        return (object) $facts;
    }
}
