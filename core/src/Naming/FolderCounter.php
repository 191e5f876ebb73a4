<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/**
 * Hands out the stems of one folder. It goes on behind the highest number there, and the one rule for collisions is:
 * a number is passed over as long as any name in the folder has its stem, in any letter case and with any extension.
 */
final class FolderCounter
{
    private int $last = 0;

    /** @var array<string, true> folded stems that are taken */
    private array $taken = [];

    /** @param iterable<string> $present names of the files already in the folder */
    public function __construct(private readonly DatedNames $names, iterable $present)
    {
        foreach ($present as $name) {
            $this->last = max($this->last, $this->names->counterOf($name) ?? 0);
            $dot = strpos($name, '.', 1);
            $this->taken[PortableName::folded(false === $dot ? $name : substr($name, 0, $dot))] = true;
        }
    }

    public function next(): string
    {
        do {
            $stem = $this->names->stem(++$this->last);
            $folded = PortableName::folded($stem);
        } while (isset($this->taken[$folded]));
        $this->taken[$folded] = true;

        return $stem;
    }
}
