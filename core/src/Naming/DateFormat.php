<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Shoot\Day;

/**
 * Dates by LDML patterns (Unicode Technical Standard 35, part 4, “Date Format Patterns”), in English: names must not
 * change with the computer's language.
 */
final class DateFormat
{
    /** @var array<string, \IntlDateFormatter> */
    private static array $formatters = [];

    public static function of(ShotTime $time, string $pattern): string
    {
        self::$formatters[$pattern] ??= new \IntlDateFormatter(
            'en_GB',
            \IntlDateFormatter::FULL,
            \IntlDateFormatter::FULL,
            'UTC',
            \IntlDateFormatter::GREGORIAN,
            $pattern,
        );
        $text = self::$formatters[$pattern]->format($time->ticks() / 1000);

        return false === $text ? $time->clock : $text;
    }

    public static function ofDay(Day $day, string $pattern): string
    {
        $time = ShotTime::fromText($day->text().'T00:00:00');

        return null === $time ? $day->text() : self::of($time, $pattern);
    }
}
