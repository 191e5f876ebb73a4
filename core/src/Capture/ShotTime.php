<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * The wall clock of the camera when the shutter opened, with sub-seconds and, where the camera knew it, its offset from
 * UTC. It is not an instant: most cameras do not know their time zone, so wall clocks are compared with wall clocks.
 */
final readonly class ShotTime
{
    /**
     * @param string      $clock        `YYYY-MM-DDTHH:MM:SS`
     * @param int<0, 999> $milliseconds
     * @param string|null $offset       `+02:00`, or null where unknown
     */
    private function __construct(public string $clock, public int $milliseconds, public ?string $offset)
    {
    }

    /**
     * From EXIF `DateTimeOriginal` (`YYYY:MM:DD HH:MM:SS`), `SubSecTimeOriginal` (decimal digits after the point) and
     * `OffsetTimeOriginal` (`±HH:MM`, or `Z` as some write); EXIF 2.32 (CIPA DC-008), 4.6.5 F. Seconds may be missing.
     *
     * Null where the text is no time that ever was: blanks, zeros, 31 February.
     */
    public static function fromExif(string $dateTime, string $subSeconds = '', string $offset = ''): ?self
    {
        if (1 !== preg_match('/^(\d{4})[:\-](\d{2})[:\-](\d{2})[ T](\d{2}):(\d{2})(?::(\d{2}))?/', $dateTime, $part)) {
            return null;
        }
        [, $year, $month, $day, $hour, $minute] = $part;
        $second = $part[6] ?? '00';
        if ('24:00:00' === "$hour:$minute:$second" || '60' === $second) {
            // the end of a day, or a leap second: its last second, so that it belongs to the day that is named
            [$hour, $minute, $second] = ['24' === $hour ? '23' : $hour, '24' === $hour ? '59' : $minute, '59'];
        }
        if (
            $year < 1826
            || $hour > 23
            || $minute > 59
            || $second > 59
            || !checkdate((int) $month, (int) $day, (int) $year)
        ) {
            return null;
        }
        $subSeconds = trim($subSeconds);
        $milliseconds = (int) substr(str_pad(substr($subSeconds, 0, strspn($subSeconds, '0123456789')), 3, '0'), 0, 3);
        \assert($milliseconds >= 0 && $milliseconds < 1000);
        $offset = 'Z' === trim($offset) ? '+00:00' : trim($offset);

        return new self(
            "$year-$month-{$day}T$hour:$minute:$second",
            $milliseconds,
            '' !== $offset && 1 === preg_match('/^[+\-](0\d|1[0-4]):[0-5]\d$/', $offset) ? $offset : null,
        );
    }

    /** From the form in which {@see text()} writes it. */
    public static function fromText(string $text): ?self
    {
        $point = strrpos($text, '.');

        return self::fromExif($text, false === $point ? '' : substr($text, $point + 1));
    }

    /**
     * The file system's time as a wall clock in the zone of this computer. FAT keeps wall clocks and starts at
     * 1980-01-01, which stands for "never set"; null then.
     */
    public static function fromFileTime(int $unixSeconds, \DateTimeZone $zone): ?self
    {
        if ($unixSeconds < 315_705_600) { // 1980-01-03: past the FAT epoch in every time zone
            return null;
        }

        return self::fromExif((new \DateTimeImmutable('@'.$unixSeconds))->setTimezone($zone)->format('Y:m:d H:i:s'));
    }

    /** An instant as the wall clock of a zone. */
    public static function fromInstant(int $unixSeconds, \DateTimeZone $zone): ?self
    {
        $local = (new \DateTimeImmutable('@'.$unixSeconds))->setTimezone($zone);

        return self::fromExif($local->format('Y:m:d H:i:s'), '', $local->format('P'));
    }

    /** The wall clock so many seconds later; null where that year cannot be written. */
    public function plusSeconds(int $seconds): ?self
    {
        $moved = (new \DateTimeImmutable($this->clock, new \DateTimeZone('UTC')))
            ->modify(\sprintf('%+d seconds', $seconds));

        return self::fromExif(
            $moved->format('Y:m:d H:i:s'),
            \sprintf('%03d', $this->milliseconds),
            $this->offset ?? '',
        );
    }

    /** From seconds of the camera's own wall clock since 1970-01-01T00:00:00. */
    public static function fromClockSeconds(int $seconds): ?self
    {
        return self::fromExif(gmdate('Y:m:d H:i:s', $seconds));
    }

    /** `YYYY-MM-DDTHH:MM:SS`, with `.fff` where the camera counted parts of a second. */
    public function text(): string
    {
        return 0 === $this->milliseconds ? $this->clock : \sprintf('%s.%03d', $this->clock, $this->milliseconds);
    }

    /** Milliseconds on the wall clock since 1970-01-01T00:00:00; for comparing and subtracting, not an instant. */
    public function ticks(): int
    {
        $seconds = gmmktime(
            (int) substr($this->clock, 11, 2),
            (int) substr($this->clock, 14, 2),
            (int) substr($this->clock, 17, 2),
            (int) substr($this->clock, 5, 2),
            (int) substr($this->clock, 8, 2),
            (int) substr($this->clock, 0, 4),
        );

        return (int) $seconds * 1000 + $this->milliseconds;
    }
}
