<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What runs are recognised by: when a frame was taken, with which camera, and how it was exposed. */
final readonly class Exposed
{
    /**
     * @param int|null   $ticks milliseconds on the wall clock; null where it is not known
     * @param float|null $value exposure value for ISO 100; null where it is not known
     * @param float|null $bias  stops
     */
    public function __construct(public ?int $ticks, public string $camera, public ?float $value, public ?float $bias)
    {
    }

    /** Exposure value for ISO 100: log2(N²/t) − log2(S/100) (APEX; EXIF 2.32, annex C). */
    public static function value(?float $seconds, ?float $fNumber, ?int $iso): ?float
    {
        return null === $seconds || null === $fNumber || null === $iso || $seconds <= 0 || $fNumber <= 0 || $iso <= 0
            ? null : log($fNumber ** 2 / $seconds, 2) - log($iso / 100, 2);
    }
}
