<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/**
 * What goes over the socket of a drawing process: byte strings, each behind its length (eight bytes, little-endian).
 */
final class Message
{
    private const HEAD = 8;

    /**
     * @param resource     $stream
     * @param list<string> $parts
     *
     * @return bool whether the other side took it
     */
    public static function write($stream, array $parts): bool
    {
        foreach ($parts as $part) {
            // the other side may be gone
            if (
                self::HEAD !== @fwrite($stream, pack('P', \strlen($part)))
                || \strlen($part) !== @fwrite($stream, $part)
            ) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param resource $stream
     * @param int      $most bytes of one part
     *
     * @return list<string>|null null where the other side broke off, or sends more than it may
     */
    public static function read($stream, int $count, int $most): ?array
    {
        $parts = [];
        while (\count($parts) < $count) {
            $head = stream_get_contents($stream, self::HEAD);
            $length = false !== $head && self::HEAD === \strlen($head) ? unpack('P', $head)[1] ?? null : null;
            if (!\is_int($length) || $length < 0 || $length > $most) {
                return null;
            }
            $part = 0 === $length ? '' : stream_get_contents($stream, $length);
            if (false === $part || \strlen($part) !== $length) {
                return null;
            }
            $parts[] = $part;
        }

        return $parts;
    }
}
