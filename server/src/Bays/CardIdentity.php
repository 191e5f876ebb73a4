<?php

declare(strict_types=1);

namespace Velvet\Server\Bays;

/** Tells a card from others when it comes back: by the identity of its file system where it has one, else by its place. */
final class CardIdentity
{
    public static function of(string $root): string
    {
        $root = rtrim((string) realpath($root), '/');
        $device = self::deviceAt($root);
        if (null !== $device) {
            $links = glob('/dev/disk/by-uuid/*');
            foreach (false === $links ? [] : $links as $link) {
                if (realpath($link) === $device) {
                    return 'filesystem:'.basename($link);
                }
            }
        }

        return 'folder:'.$root;
    }

    /** The block device mounted at exactly this folder (`proc(5)`, mountinfo); null where none is. */
    private static function deviceAt(string $root): ?string
    {
        $lines = @file('/proc/self/mountinfo', \FILE_IGNORE_NEW_LINES);
        foreach (false === $lines ? [] : $lines as $line) {
            $fields = explode(' ', $line);
            $separator = array_search('-', $fields, true);
            if (stripcslashes($fields[4] ?? '') === $root && \is_int($separator)) {
                $device = realpath($fields[$separator + 2] ?? '');

                return false === $device ? null : $device;
            }
        }

        return null;
    }
}
