<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\UnixServer;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Server\Store\FeedConnection;
use Velvet\Server\Watch\Stream;

/**
 * Serves server-sent events (WHATWG HTML, 9.2) to every open page from one process, so that listening pages hold none
 * of the web server's PHP workers. It stands behind the web server and hears only its requests.
 */
#[AsCommand('velvet:events', 'Sends happenings to listening browsers. Runs until it is stopped.')]
final class EventsCommand extends Command
{
    private const KEEP_ALIVE = 15.0; // seconds between comment lines that keep proxies from hanging up

    public function __construct(#[Autowire('%env(VELVET_DATABASE)%')] private readonly string $database)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('socket', InputArgument::REQUIRED, 'the Unix socket to listen on');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $socket = $input->getArgument('socket');
        \assert(\is_string($socket));
        if (file_exists($socket)) {
            unlink($socket);
        }
        $feed = FeedConnection::open($this->database);
        /** @var \SplObjectStorage<Stream, null> $streams */
        $streams = new \SplObjectStorage();
        $server = new UnixServer($socket);
        $server->on('connection', static function (ConnectionInterface $connection) use ($feed, $streams): void {
            Stream::greet($connection, $feed, $streams);
        });
        Loop::addReadStream($feed->socket(), static function () use ($feed, $streams): void {
            foreach ($feed->news() as $happening) {
                foreach ($streams as $stream) {
                    $stream->send($happening);
                }
            }
        });
        Loop::addPeriodicTimer(self::KEEP_ALIVE, static function () use ($streams): void {
            foreach ($streams as $stream) {
                $stream->keepAlive();
            }
        });
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            Loop::addSignal($signal, static fn () => Loop::stop());
        }
        Loop::run();
        $server->close();

        return Command::SUCCESS;
    }
}
