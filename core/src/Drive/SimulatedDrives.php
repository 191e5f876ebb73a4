<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/**
 * Each folder right below some roots is taken for a drive of its own, unless one is mounted there: the demo's shelves,
 * whose two drives are only folders where nothing can be mounted. Everywhere else the real drives count.
 */
final readonly class SimulatedDrives implements DriveTable
{
    /** @param list<string> $roots absolute */
    public function __construct(private DriveTable $real, private array $roots)
    {
    }

    public function holding(string $path): ?Drive
    {
        $drive = $this->real->holding($path);
        $path = realpath($path);
        if (null === $drive || false === $path) {
            return null;
        }
        foreach ($this->roots as $root) {
            $root = realpath($root);
            if (false === $root || !str_starts_with($path, $root.'/')) {
                continue;
            }
            $folder = $root.'/'.explode('/', substr($path, \strlen($root) + 1))[0];
            if (!str_starts_with($drive->point.'/', $folder.'/')) {
                return new Drive('simulated:'.$folder, $folder, $drive->type, ['simulated:'.$folder]);
            }
        }

        return $drive;
    }
}
