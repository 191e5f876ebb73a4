<?php

declare(strict_types=1);

namespace Velvet\Bench;

/** A process and all that it started, as Linux tells of them in /proc while they run. */
final class ProcessTree
{
    /** @var array<string, int> the most bytes of memory, by the program's name */
    private array $peaks = [];
    private int $read = 0;
    private int $written = 0;

    public function __construct(private readonly int $root)
    {
    }

    public function look(): void
    {
        $left = [$this->root];
        $read = $written = 0;
        while (null !== $pid = array_pop($left)) {
            $status = (string) @file_get_contents("/proc/$pid/status");
            $io = (string) @file_get_contents("/proc/$pid/io");
            if (1 === preg_match('/^VmHWM:\s+(\d+) kB/m', $status, $peak) && '' !== $io) {
                preg_match('/^Name:\s+(.*)/m', $status, $name);
                $this->peaks[$name[1] ?? ''] = max($this->peaks[$name[1] ?? ''] ?? 0, 1024 * (int) $peak[1]);
                // a process counts those that it started and that have ended with its own (proc(5))
                $read += self::bytes('rchar', $io);
                $written += self::bytes('wchar', $io);
            }
            foreach ((array) glob("/proc/$pid/task/*/children") as $children) {
                $pids = explode(' ', trim((string) @file_get_contents((string) $children)));
                array_push($left, ...array_map(intval(...), array_filter($pids, is_numeric(...))));
            }
        }
        $this->read = max($this->read, $read);
        $this->written = max($this->written, $written);
    }

    public function usage(float $seconds): Usage
    {
        arsort($this->peaks);

        return new Usage($seconds, $this->read, $this->written, \array_slice($this->peaks, 0, 3));
    }

    private static function bytes(string $name, string $io): int
    {
        return 1 === preg_match("/^$name: (\d+)/m", $io, $found) ? (int) $found[1] : 0;
    }
}
