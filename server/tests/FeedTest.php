<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\UnixConnector;
use React\Socket\UnixServer;
use Velvet\Server\Store\FeedConnection;
use Velvet\Server\Store\Happening;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Watch\Stream;

final class FeedTest extends ServerTestCase
{
    /** @var list<FeedConnection> */
    private array $feeds = [];

    protected function tearDown(): void
    {
        foreach ($this->feeds as $feed) {
            $feed->close();
        }
        parent::tearDown();
    }

    public function testHappeningsAreHeardInOrder(): void
    {
        $feed = $this->feed();
        self::assertSame([], $feed->news());
        $this->get(Happenings::class)->tell('card', ['id' => 1]);
        $this->get(Happenings::class)->tell('intake', ['id' => 2]);
        self::assertSame(['card', 'intake'], array_column($this->wait($feed), 'topic'));
        self::assertSame([], $feed->news());
    }

    /** The database calls while something else is asked of it, as when a page begins to listen: the call stands. */
    public function testACallDuringAQuestionIsNotLost(): void
    {
        $feed = $this->feed();
        $this->get(Happenings::class)->tell('card', ['id' => 1]);
        $feed->since(0);
        $read = [$feed->socket()];
        $none = null;
        self::assertSame(1, stream_select($read, $none, $none, 5), 'the socket still says so');
        self::assertSame(['card'], array_column($feed->news(), 'topic'));
    }

    public function testADroppedConnectionCatchesUp(): void
    {
        $happenings = $this->get(Happenings::class);
        foreach ([1, 2, 3] as $n) {
            $happenings->tell('card', ['id' => $n]);
        }
        $feed = $this->feed();
        $heard = $this->listen($feed, "GET /api/events HTTP/1.1\r\nHost: x\r\nLast-Event-ID: 1\r\n\r\n", 'id: 3');
        self::assertStringContainsString('Content-Type: text/event-stream', $heard);
        self::assertStringNotContainsString("id: 1\n", $heard);
        self::assertStringContainsString(
            "id: 2\nevent: card\ndata: {\"id\": 2}\n\nid: 3\nevent: card\ndata: {\"id\": 3}\n\n",
            $heard,
        );
    }

    public function testAnEventIsSentInTheStandardForm(): void // WHATWG HTML, 9.2.5
    {
        self::assertSame("id: 7\nevent: bays\ndata: []\n\n", (new Happening(7, 'bays', '[]'))->event());
    }

    private function feed(): FeedConnection
    {
        return $this->feeds[] = FeedConnection::open((string) getenv('VELVET_DATABASE'));
    }

    private function listen(FeedConnection $feed, string $request, string $until): string
    {
        $heard = '';
        $server = new UnixServer($this->folder.'/events.sock');
        /** @var \SplObjectStorage<Stream, null> $streams */
        $streams = new \SplObjectStorage();
        $server->on(
            'connection',
            static fn (ConnectionInterface $connection) => Stream::greet($connection, $feed, $streams),
        );
        $asks = static function (ConnectionInterface $connection) use (&$heard, $request, $until): void {
            $connection->on('data', static function (string $data) use (&$heard, $until): void {
                $heard .= $data;
                if (str_contains($heard, $until)) {
                    Loop::stop();
                }
            });
            $connection->write($request);
        };
        (new UnixConnector())->connect($this->folder.'/events.sock')->then($asks);
        $guard = Loop::addTimer(5, static fn () => Loop::stop());
        Loop::run();
        Loop::cancelTimer($guard);
        $server->close();

        return $heard;
    }

    /** @return list<Happening> */
    private function wait(FeedConnection $feed): array
    {
        $read = [$feed->socket()];
        $none = null;
        stream_select($read, $none, $none, 5);

        return $feed->news();
    }
}
