<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/**
 * Converts one raw file in a process of its own, with limits on time and memory: a crafted file that makes it hang,
 * grow or crash harms nothing else. Several may run side by side.
 */
final class FencedConversion
{
    /** Seconds of work for the largest sensors there are, many times over. */
    private const MOST_SECONDS = 300;
    /** Bytes of address space. */
    private const MOST_MEMORY = 6_000_000_000;

    private static ?int $cores = null;

    private ?Process $process = null;

    /** @param list<string> $program what is run, with the arguments behind it */
    public function __construct(
        private readonly array $program,
        private readonly int $seconds = self::MOST_SECONDS,
        private readonly int $memory = self::MOST_MEMORY,
    ) {
    }

    /** How many may run side by side on this machine. */
    public static function cores(): int
    {
        return self::$cores ??= max(1, (int) shell_exec('nproc'));
    }

    /** @param string $project the server's folder */
    public static function ofRaw(string $project): self
    {
        // compiled, as the coder needs it (decision 18)
        return new self(
            [
                \PHP_BINARY,
                '-d',
                'memory_limit=4G',
                '-d',
                'opcache.enable_cli=1',
                '-d',
                'opcache.jit=tracing',
                '-d',
                'opcache.jit_buffer_size=64M',
                $project.'/bin/dng-one',
            ],
        );
    }

    /**
     * @param string $to   in a folder that is written into by nobody else
     * @param int    $cores that it may use
     * @param string $name what the raw file was called in the camera
     */
    public function start(string $from, string $to, string $name, bool $embeds, int $cores = 1): void
    {
        // it goes when we go, and the copy goes before it
        $this->process = new Process(
            [
                'nice',
                '-n',
                '15',
                'setpriv',
                '--pdeathsig',
                'KILL',
                'prlimit',
                '--as='.$this->memory,
                '--cpu='.$this->seconds,
                '--nofile=256',
                '--core=0',
                ...$this->program,
                ...($embeds ? ['--embed'] : []),
                '--cores='.$cores,
                '--',
                $from,
                $to,
                $name,
            ],
            null,
            null,
            null,
            2 * $this->seconds,
        );
        $this->process->start();
    }

    /** @phpstan-impure it ends by itself */
    public function runs(): bool
    {
        try {
            $this->process?->checkTimeout();
        } catch (ProcessTimedOutException) {
            return false;
        }

        return true === $this->process?->isRunning();
    }

    public function stop(): void
    {
        $this->process?->stop(0);
    }

    /**
     * What came of it, when it does not run any more.
     *
     * @return array{bytes_before: int, bytes_after: int, samples: string, digest: string}|string digests hexadecimal; a
     *     sentence where nothing did
     */
    public function outcome(): array|string
    {
        $said = json_decode((string) $this->process?->getOutput(), true);
        if (
            0 === $this->process?->getExitCode()
            && \is_array($said)
            && \is_int($said['bytes_before'] ?? null)
            && \is_int($said['bytes_after'] ?? null)
            && \is_string($said['samples'] ?? null)
            && \is_string($said['digest'] ?? null)
        ) {
            return [
                'bytes_before' => $said['bytes_before'],
                'bytes_after' => $said['bytes_after'],
                'samples' => $said['samples'],
                'digest' => $said['digest'],
            ];
        }

        return \is_array($said) && \is_string($said['refused'] ?? null)
            ? $said['refused']
            : 'converting it took too long or too much memory, and was given up';
    }
}
