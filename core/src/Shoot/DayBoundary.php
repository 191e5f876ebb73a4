<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

use Velvet\Core\Capture\ShotTime;

/** The hour at which a photographer's day begins: a night past midnight belongs to the day before (common practice). */
final readonly class DayBoundary
{
    /** @param int<0, 1439> $minutes after midnight */
    private function __construct(public int $minutes)
    {
    }

    /** @throws NotATimeOfDay */
    public static function at(string $clock): self
    {
        if (1 !== preg_match('/^([01]?\d|2[0-3]):([0-5]\d)$/', $clock, $part)) {
            throw NotATimeOfDay::of($clock);
        }
        $minutes = (int) $part[1] * 60 + (int) $part[2];
        \assert($minutes >= 0 && $minutes < 1440);

        return new self($minutes);
    }

    /** The day that a shot belongs to. */
    public function dayOf(ShotTime $time): Day
    {
        $day = Day::fromText(substr($time->clock, 0, 10));
        $minutes = (int) substr($time->clock, 11, 2) * 60 + (int) substr($time->clock, 14, 2);

        return $minutes >= $this->minutes ? $day : $day->before();
    }

    /** `HH:MM` */
    public function text(): string
    {
        return \sprintf('%02d:%02d', intdiv($this->minutes, 60), $this->minutes % 60);
    }
}
