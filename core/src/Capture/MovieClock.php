<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * In which zone the movies of a card were taken. Their headers should count in UTC, and many cameras write their own
 * wall clock there instead; few say in which zone they are (common practice). The pictures of the same card tell: the
 * camera dated their files with the same clock with which it dated the pictures, and so it did with its movies' files.
 */
final class MovieClock
{
    /** Seconds from a file's last byte to the time that its directory entry has; FAT counts in steps of two. */
    private const SLACK = 120;
    /** Seconds: no zone is finer (common practice); two zones have quarters of an hour, which are left out. */
    private const STEP = 1800;
    private const WEST = -12 * 3600;
    private const EAST = 14 * 3600;
    /** Seconds: a camera's clock and the one that this computer shows stand in zones no further apart. */
    private const APART = self::EAST - self::WEST;

    /** Seconds by which the file system's wall clock, as it is seen here, is ahead of the camera's. */
    private ?int $ahead = null;

    /** @param \DateTimeZone $zone in which the times of the card's file system are told */
    public function __construct(private readonly \DateTimeZone $zone)
    {
    }

    /**
     * A picture says what its camera's clock said, and its file what the file system says of the same moment.
     *
     * @param int $modifiedAt of its file, in Unix seconds
     */
    public function picture(ShotTime $time, int $modifiedAt): void
    {
        $ahead = $this->wallClock($modifiedAt) - intdiv($time->ticks(), 1000);
        $whole = (int) round($ahead / self::STEP) * self::STEP;
        // what is further away, or no whole step, was written later than it was taken: by a program, from another card
        $this->ahead = abs($whole) > self::APART || abs($ahead - $whole) > self::SLACK ? null : $whole;
    }

    /**
     * The camera's wall clock for a movie, as far as its file's time is witness for a zone, and for one alone; else as
     * it was read.
     *
     * @param ShotTime $time       an instant, told in the zone that is supposed: it has an offset
     * @param float    $seconds    how long the movie plays: its file is dated when it ends, or when it began
     * @param int      $modifiedAt of its file, in Unix seconds
     */
    public function movie(ShotTime $time, float $seconds, int $modifiedAt): ShotTime
    {
        if (null === $this->ahead || null === $time->offset) {
            return $time;
        }
        $supposed = self::seconds($time->offset);
        $instant = intdiv($time->ticks(), 1000) - $supposed;
        $camera = $this->wallClock($modifiedAt) - $this->ahead - $instant; // seconds that its clock is ahead of UTC
        $fits = static fn (int $offset): bool => $camera - $offset >= -self::SLACK
            && $camera - $offset <= $seconds + self::SLACK;
        if ($fits($supposed)) {
            return $time;
        }
        $zones = $fits(0) ? [0] : array_values(array_filter(range(self::WEST, self::EAST, self::STEP), $fits));

        return 1 === \count($zones) ? ShotTime::fromClockSeconds($instant + $zones[0]) ?? $time : $time;
    }

    /** The camera's wall clock when a file was written that says nothing of its time; null where it was never dated. */
    public function file(int $modifiedAt): ?ShotTime
    {
        return ShotTime::fromFileTime($modifiedAt, $this->zone)?->plusSeconds(-($this->ahead ?? 0));
    }

    private function wallClock(int $unixSeconds): int
    {
        return $unixSeconds + $this->zone->getOffset(new \DateTimeImmutable('@'.$unixSeconds));
    }

    /** @param string $offset `+02:00` */
    private static function seconds(string $offset): int
    {
        [$hours, $minutes] = explode(':', substr($offset, 1));

        return ('-' === $offset[0] ? -60 : 60) * (60 * (int) $hours + (int) $minutes);
    }
}
