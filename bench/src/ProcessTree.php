<?php

declare(strict_types=1);

namespace Velvet\Bench;

/** A process and all that it started, as Linux tells of them in /proc while they run. */
final class ProcessTree
{
    /** @var array<int, array{name: string, peak: int, read: int, written: int}> by process number */
    private array $seen = [];

    public function __construct(private readonly int $root)
    {
    }

    public function look(): void
    {
        $left = [$this->root];
        while (null !== $pid = array_pop($left)) {
            $status = (string) @file_get_contents("/proc/$pid/status");
            $io = (string) @file_get_contents("/proc/$pid/io");
            if (1 === preg_match('/^VmHWM:\s+(\d+) kB/m', $status, $peak) && '' !== $io) {
                preg_match('/^Name:\s+(.*)/m', $status, $name);
                preg_match('/^rchar: (\d+)/m', $io, $read);
                preg_match('/^wchar: (\d+)/m', $io, $written);
                $this->seen[$pid] = [
                    'name' => $name[1] ?? '', 'peak' => 1024 * (int) $peak[1],
                    'read' => (int) ($read[1] ?? 0), 'written' => (int) ($written[1] ?? 0),
                ];
            }
            foreach ((array) glob("/proc/$pid/task/*/children") as $children) {
                $pids = explode(' ', trim((string) @file_get_contents((string) $children)));
                array_push($left, ...array_map(intval(...), array_filter($pids, is_numeric(...))));
            }
        }
    }

    public function usage(float $seconds): Usage
    {
        $peaks = [];
        foreach ($this->seen as ['name' => $name, 'peak' => $peak]) {
            $peaks[$name] = max($peaks[$name] ?? 0, $peak);
        }
        arsort($peaks);

        return new Usage(
            $seconds,
            array_sum(array_column($this->seen, 'read')),
            array_sum(array_column($this->seen, 'written')),
            \array_slice($peaks, 0, 3),
        );
    }
}
