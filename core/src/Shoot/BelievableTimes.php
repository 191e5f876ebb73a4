<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\ShotTime;

/**
 * The times at which a picture on a card may have been taken. A camera whose battery was empty begins again at the
 * first day that it knows (1904, 1970 or 1980; common practice), and one that was set in haste may be ahead of us by
 * years.
 */
final readonly class BelievableTimes
{
    /** There were hardly digital cameras with cards before (from memory). */
    private const FIRST = '1990-01-01T00:00:00';

    /** @param string $end `YYYY-MM-DDTHH:MM:SS`, from which on nothing can have been taken */
    private function __construct(private string $end)
    {
    }

    /** Up to the end of the next day: somewhere it has begun already. */
    public static function on(Day $today): self
    {
        $end = new \DateTimeImmutable($today->text(), new \DateTimeZone('UTC'));

        return new self($end->modify('+2 days')->format('Y-m-d\TH:i:s'));
    }

    public function have(ShotTime $time): bool
    {
        return $time->clock >= self::FIRST && $time->clock < $this->end;
    }
}
