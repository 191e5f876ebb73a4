<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/**
 * The drives that an intake began with. A drive that is pulled out leaves an empty folder of the computer's own disk where it
 * was mounted; the number of its device tells the two apart, so that nothing is written into that folder.
 */
final readonly class Drives
{
    /** @param array<string, int> $devices the number of the device (POSIX `st_dev`), by the root that lies on it */
    public function __construct(public array $devices)
    {
    }

    /** @param list<string> $roots absolute */
    public static function at(array $roots): self
    {
        $devices = [];
        foreach ($roots as $root) {
            $device = self::deviceOf($root);
            if (null !== $device) {
                $devices[$root] = $device;
            }
        }

        return new self($devices);
    }

    /** Whether there are several roots, all on one drive: copies of which none is a second place. */
    public function areOne(): bool
    {
        return \count($this->devices) > 1 && 1 === \count(array_unique($this->devices));
    }

    /** @return string|null the first root whose drive is gone, or is another one now */
    public function missing(): ?string
    {
        foreach ($this->devices as $root => $device) {
            if (self::deviceOf($root) !== $device) {
                return $root;
            }
        }

        return null;
    }

    private static function deviceOf(string $root): ?int
    {
        clearstatcache(true, $root);
        $stat = is_dir($root) ? @stat($root) : false;

        return false === $stat ? null : $stat['dev'];
    }
}
