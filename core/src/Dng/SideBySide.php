<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * Parts of a work done at the same time, each on a core of its own: all but the first in forked processes, which hand
 * back what they made.
 */
final class SideBySide
{
    private const CHUNK = 1 << 20;

    /**
     * @param list<\Closure(): string> $parts what they throw is thrown here
     *
     * @return list<string> what each of them made
     *
     * @throws DngRefused when a process dies
     */
    public static function of(array $parts): array
    {
        $sockets = $made = [];
        foreach (\array_slice($parts, 1, null, true) as $n => $part) {
            $pair = \function_exists('pcntl_fork')
                ? stream_socket_pair(\STREAM_PF_UNIX, \STREAM_SOCK_STREAM, 0)
                : false;
            $pid = false === $pair ? -1 : pcntl_fork();
            if (0 === $pid && false !== $pair) {
                self::handBack($pair[1], $part);
            }
            if ($pid > 0 && false !== $pair) {
                fclose($pair[1]);
                $sockets[$n] = [$pair[0], $pid];
            }
        }
        foreach ($parts as $n => $part) {
            $made[] = isset($sockets[$n]) ? self::taken(...$sockets[$n]) : $part();
        }

        return $made;
    }

    /**
     * @param resource          $socket
     * @param \Closure(): string $part
     */
    private static function handBack($socket, \Closure $part): never
    {
        try {
            $said = '+'.$part();
        } catch (DngRefused $e) {
            $said = '-'.$e->getMessage();
        }
        foreach (str_split($said, self::CHUNK) as $chunk) {
            for ($done = 0; $done < \strlen($chunk); $done += $count) {
                $count = @fwrite($socket, substr($chunk, $done));
                if (false === $count || 0 === $count) {
                    break 2; // nobody listens any more
                }
            }
        }
        fclose($socket);
        posix_kill(posix_getpid(), \SIGKILL); // nothing of the other process is to be ended by this one
        exit(1);
    }

    /**
     * @param resource $socket
     *
     * @throws DngRefused
     */
    private static function taken($socket, int $pid): string
    {
        $said = stream_get_contents($socket);
        fclose($socket);
        pcntl_waitpid($pid, $status);
        if (false === $said || '' === $said) {
            throw DngRefused::said('a part of the work ended too early');
        }

        return '+' === $said[0] ? substr($said, 1) : throw DngRefused::said(substr($said, 1));
    }
}
