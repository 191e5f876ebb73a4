<?php

declare(strict_types=1);

namespace Velvet\Server;

/** The time zone of this computer, in which file systems keep their wall clocks. */
final class LocalZone
{
    public static function name(): string
    {
        $named = getenv('TZ');
        $link = @readlink('/etc/localtime');
        $written = @file_get_contents('/etc/timezone');
        $linked = \is_string($link) ? preg_replace('~^.*/zoneinfo/~', '', $link) : null;
        foreach ([$named, $linked, $written] as $candidate) {
            $candidate = trim((string) $candidate);
            if (
                '' !== $candidate
                && \in_array($candidate, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true)
            ) {
                return $candidate;
            }
        }

        return 'UTC';
    }

    public static function get(): \DateTimeZone
    {
        return new \DateTimeZone(self::name());
    }
}
