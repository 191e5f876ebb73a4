<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

use React\Socket\ConnectionInterface;
use Velvet\Server\Store\FeedConnection;
use Velvet\Server\Store\Happening;

/** One listening page. */
final class Stream
{
    private const LONGEST_REQUEST = 16_384;

    private function __construct(private readonly ConnectionInterface $connection, private int $sent)
    {
    }

    /**
     * Waits for the request's head, catches the page up with what it missed, and adds it to the listeners.
     *
     * @param \SplObjectStorage<Stream, null> $streams
     */
    public static function greet(
        ConnectionInterface $connection,
        FeedConnection $feed,
        \SplObjectStorage $streams,
    ): void {
        $head = '';
        $connection->on('data', static function (string $data) use (&$head, $connection, $feed, $streams): void {
            if ('' === $data || str_contains($head, "\r\n\r\n")) {
                return;
            }
            $head .= $data;
            if (\strlen($head) > self::LONGEST_REQUEST) {
                $connection->close();
            } elseif (str_contains($head, "\r\n\r\n")) {
                $connection->write(
                    "HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\nCache-Control: no-store\r\n"
                        ."X-Accel-Buffering: no\r\nConnection: close\r\n\r\nretry: 1000\n\n",
                );
                $last = 1 === preg_match('/^Last-Event-ID:\s*(\d{1,18})\s*$/mi', $head, $match)
                    ? (int) $match[1]
                    : $feed->last();
                $stream = new self($connection, $last);
                foreach ($feed->since($last) as $happening) {
                    $stream->send($happening);
                }
                $streams->attach($stream);
                $connection->on('close', static fn () => $streams->detach($stream));
            }
        });
    }

    public function send(Happening $happening): void
    {
        if ($happening->id > $this->sent) {
            $this->sent = $happening->id;
            $this->connection->write($happening->event());
        }
    }

    public function keepAlive(): void
    {
        $this->connection->write(": still here\n\n");
    }
}
