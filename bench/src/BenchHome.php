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
        (new Process([\dirname(__DIR__, 2).'/velvet', ...array_values($arguments)], env: [
            'VELVET_HOME' => $this->home, 'VELVET_PORT' => (string) $this->port, 'VELVET_BAYS' => $this->home.'/bays',
            'VELVET_DATABASE' => false, 'PGPASSWORD' => false, 'VELVET_FENCE' => false,
        ], timeout: 600))->mustRun();
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
