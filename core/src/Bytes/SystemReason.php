<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The operating system's own words for the last thing that went wrong, without PHP's preamble. */
final class SystemReason
{
    public static function last(): string
    {
        $message = error_get_last()['message'] ?? '';
        // "fopen(/a/b): Failed to open stream: No such file …", "scandir(): (errno 13): Permission denied",
        // "… errno=28 No space left …"
        if (1 === preg_match('/^(?:.*: )?(?:.*errno=\d+ )?(.+)$/s', $message, $match)) {
            $message = $match[1];
        }

        return '' === $message ? 'no reason given' : strtolower($message);
    }
}
