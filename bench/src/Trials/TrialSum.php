<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

/** What came of one kind of trial. */
final class TrialSum
{
    public int $trials = 0;
    public int $faults = 0;
    /** @var list<string> */
    public array $losses = [];
    /** @var array<string, int> what was being done when the faults came */
    public array $moments = [];

    public function __construct(public readonly string $kind)
    {
    }

    public function fault(string $moment): void
    {
        ++$this->faults;
        $this->moments[$moment] = ($this->moments[$moment] ?? 0) + 1;
    }

    /** @param list<string> $losses */
    public function trial(array $losses): void
    {
        ++$this->trials;
        array_push($this->losses, ...$losses);
    }

    public function line(): string
    {
        ksort($this->moments);
        $moments = array_map(
            static fn (string $moment, int $n): string => "$n $moment",
            array_keys($this->moments),
            $this->moments,
        );

        return \sprintf(
            '%s: %d trials, %d faults%s, losses: %d',
            $this->kind,
            $this->trials,
            $this->faults,
            [] === $moments ? '' : ' ('.implode(', ', $moments).')',
            \count($this->losses),
        );
    }
}
