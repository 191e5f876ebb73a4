<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/** The operating system's own words for the last thing that went wrong, without PHP's preamble. */
final class SystemReason
{
    public static function last(): string
    {
        $message = error_get_last()['message'] ?? '';
        if (1 === preg_match('/(?:Failed to open (?:stream|directory)|failed): (.+)$/i', $message, $match)) {
            return strtolower($match[1]);
        }
        if (1 === preg_match('/errno=\d+ (.+)$/', $message, $match)) {
            return strtolower($match[1]);
        }

        return '' === $message ? 'no reason given' : strtolower(preg_replace('/^\w+\(.*?\): /', '', $message) ?? $message);
    }
}
