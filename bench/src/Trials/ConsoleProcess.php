<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

/** A command of `velvet` as a process of its own, which can be killed. */
final class ConsoleProcess
{
    /** @var resource */
    private $process;
    private ?int $status = null;

    /**
     * @param list<string> $command with its arguments
     * @param list<string> $through a program and its options that runs it, such as `strace` with a fault
     */
    public function __construct(array $command, array $through = [])
    {
        $console = \dirname(__DIR__, 3).'/server/bin/console';
        $process = proc_open(
            [...$through, \PHP_BINARY, '-d', 'memory_limit=512M', $console, ...$command],
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
            null,
            ['APP_ENV' => 'prod', 'APP_DEBUG' => '0'] + getenv(),
        );
        $this->process = \is_resource($process) ? $process : throw new \RuntimeException('The process did not start.');
    }

    /** @param list<string> $through as for {@see self::__construct()} */
    public static function intake(TrialPlace $place, array $through = []): self
    {
        return new self([
            'velvet:intake', $place->card, '--shelf', $place->shelf, '--twin', $place->twin, '--name', $place->shoot,
            '--json', ...$place->kind->options(),
        ], $through);
    }

    public function runs(): bool
    {
        if (null !== $this->status) {
            return false;
        }
        $state = proc_get_status($this->process);
        if (!$state['running']) {
            $this->status = $state['exitcode'];
        }

        return $state['running'];
    }

    public function kill(): void
    {
        if ($this->runs()) {
            proc_terminate($this->process, \SIGKILL);
            $this->wait();
        }
    }

    /** @return int its exit status */
    public function wait(): int
    {
        while ($this->runs()) {
            usleep(2000);
        }

        return $this->status ?? -1;
    }
}
