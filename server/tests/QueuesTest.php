<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Messenger\Bridge\Doctrine\Transport\PostgreSqlConnection;

/** The queues as `framework.yaml` sets them, asked as a worker asks. */
final class QueuesTest extends ServerTestCase
{
    /** @return iterable<string, array{string}> the address of each queue that workers are on */
    public static function queues(): iterable
    {
        $settings = (string) file_get_contents(\dirname(__DIR__).'/config/packages/framework.yaml');
        preg_match_all("/'(doctrine:\\S+queue_name=(?!failed)(\\w+)\\S+)'/", $settings, $found);
        foreach ($found[2] as $i => $name) {
            yield $name => [$found[1][$i]];
        }
    }

    /**
     * A worker finds its queue empty, and listens from its next question on; what comes between the two wakes nobody.
     */
    #[DataProvider('queues')]
    public function testWhatComesBeforeAWorkerListensIsNotLeftLying(string $dsn): void
    {
        $options = PostgreSqlConnection::buildConfiguration($dsn);
        // notices are looked for without waiting for one, so that what is waited for is only the next look
        $worker = new PostgreSqlConnection(['get_notify_timeout' => 0] + $options, $this->database());
        $found = [self::look($worker)];
        (new PostgreSqlConnection($options, $this->database()))->send('a job', []);
        for ($until = microtime(true) + 3; microtime(true) < $until && !\in_array('a job', $found, true);) {
            $found[] = self::look($worker);
        }
        self::assertNull($found[0]);
        self::assertContains('a job', $found);
        $worker->reset(); // it stops listening
    }

    private static function look(PostgreSqlConnection $queue): mixed
    {
        return $queue->get()['body'] ?? null;
    }
}
