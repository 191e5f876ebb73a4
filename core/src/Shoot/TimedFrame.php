<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\ShotTime;

/** What division and order need to know of a frame. */
final readonly class TimedFrame
{
    /**
     * @param int    $id     the caller's own; comes back untouched
     * @param string $camera tells bodies apart: make, model and serial number
     * @param string $path   of the leading file on the card; the last word in the order
     */
    public function __construct(
        public int $id,
        public ?ShotTime $capturedAt,
        public string $camera,
        public string $path,
    ) {
    }

    /**
     * @param list<self> $loose  that have no place of their own
     * @param list<self> $frames
     *
     * @return list<self> the former, as if they had been taken with the last of the latter and behind it
     */
    public static function behind(array $loose, array $frames): array
    {
        $ordered = [] === $loose ? [] : CaptureOrder::of($frames);
        $last = $ordered[\count($ordered) - 1] ?? null;

        return array_map(static fn (self $one): self => new self(
            $one->id,
            $last?->capturedAt,
            $last->camera ?? '',
            ($last->path ?? '')."\u{10FFFF}".$one->id, // of the same number, and the last of these
        ), $loose);
    }
}
