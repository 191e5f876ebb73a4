<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Symfony\Component\Process\Process;

/** A home of Velvet Ledger that is made for a measurement, used by its own commands. */
final readonly class BenchHome
{
    private const PROGRAMS = '/usr/lib/postgresql/15/bin/';

    public function __construct(private string $home, private int $port)
    {
    }

    public function velvet(string ...$arguments): void
    {
        $this->process(array_values($arguments))->mustRun();
    }

    /**
     * Runs a command and looks every tenth of a second at what it takes. What it says goes to a file: it would wait
     * for a pipe that is emptied as seldom.
     */
    public function measured(string ...$arguments): Usage
    {
        $said = $this->home.'/said';
        $into = ['sh', '-c', 'exec "$0" "$@" > '.escapeshellarg($said).' 2>&1'];
        $since = hrtime(true);
        $process = $this->process(array_values($arguments), $into);
        $process->start();
        $seen = new ProcessTree($process->getPid() ?? 0);
        while ($process->isRunning()) {
            $seen->look();
            usleep(100_000);
        }
        $seconds = (hrtime(true) - $since) / 1e9;
        if (!$process->isSuccessful()) {
            throw new \RuntimeException('It failed: '.file_get_contents($said));
        }

        return $seen->usage($seconds);
    }

    /** @return int how often it had a drive keep what was written (fsync), those that it started counted with it */
    public function syncs(string ...$arguments): int
    {
        $counted = $this->home.'/syncs';
        $this->process(
            array_values($arguments),
            ['strace', '-f', '-qq', '-e', 'trace=fsync', '-o', $counted],
        )->mustRun();
        $syncs = preg_match_all('/fsync\(/', (string) file_get_contents($counted));

        return (int) $syncs;
    }

    /** @return array{commits: int, wal_bytes: int, wal_syncs: int} what its database did since it runs */
    public function activity(): array
    {
        [$commits, $bytes, $syncs] = explode('|', $this->sql(
            'SELECT (SELECT sum(xact_commit) FROM pg_stat_database), wal_bytes, wal_sync FROM pg_stat_wal',
        ));

        return ['commits' => (int) $commits, 'wal_bytes' => (int) $bytes, 'wal_syncs' => (int) $syncs];
    }

    /**
     * @param list<string> $arguments
     * @param list<string> $through   a program that runs it, with its options
     */
    private function process(array $arguments, array $through = []): Process
    {
        return new Process([...$through, \dirname(__DIR__, 2).'/velvet', ...$arguments], env: [
            'VELVET_HOME' => $this->home, 'VELVET_PORT' => (string) $this->port, 'VELVET_BAYS' => $this->home.'/bays',
            'VELVET_DATABASE' => false, 'PGPASSWORD' => false, 'VELVET_FENCE' => false,
        ], timeout: 3600);
    }

    /** @param iterable<string>|null $input */
    public function sql(string $sql, ?iterable $input = null): string
    {
        $process = new Process(
            ['psql', '-v', 'ON_ERROR_STOP=1', '-Atqc', $sql, 'velvet'],
            env: $this->environment(),
            input: $input,
            timeout: 600,
        );

        return trim($process->mustRun()->getOutput());
    }

    /** One of PostgreSQL's own programs. @return float seconds */
    public function tool(string $program, string ...$arguments): float
    {
        return Timed::seconds(function () use ($program, $arguments): void {
            (new Process(
                [self::PROGRAMS.$program, ...array_values($arguments)],
                env: $this->environment(),
                timeout: 600,
            ))->mustRun();
        });
    }

    /** @return array<string, string> */
    private function environment(): array
    {
        return [
            'PGHOST' => $this->home.'/db',
            'PGUSER' => 'velvet',
            'PGPASSWORD' => trim((string) file_get_contents($this->home.'/db-password')),
        ];
    }
}
