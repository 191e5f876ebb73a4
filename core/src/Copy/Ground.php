<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/**
 * The root that a copy must lie below, and the drive that this root lies on now. Asked again of every file that is
 * opened there: a drive may go, and a folder may be a link that leads elsewhere, as out of the shelf or onto a card.
 */
final readonly class Ground
{
    /**
     * @param string $root     absolute, as the shelf has it
     * @param string $realRoot the same without links
     * @param int    $device   number of the drive (POSIX `st_dev`); it means something only while the computer runs
     */
    public function __construct(public string $root, private string $realRoot, public int $device)
    {
    }

    /** Null where the root is not there. */
    public static function at(string $root): ?self
    {
        clearstatcache(true, $root);
        $real = realpath($root);
        $stat = false === $real || !is_dir($real) ? false : @stat($real);

        return false === $real || false === $stat ? null : new self($root, $real, $stat['dev']);
    }

    /**
     * @param string $folder absolute, below the root; need not be there yet
     *
     * @throws DriveGone when the root is not there any more: it is not made anew
     * @throws LeadsAway when one of the folders between is a link
     */
    public function mustHold(string $folder): void
    {
        $path = $this->root;
        clearstatcache(true, $path);
        if (!is_dir($path)) {
            throw DriveGone::from($folder);
        }
        foreach (explode('/', trim(substr($folder, \strlen($this->root)), '/')) as $name) {
            $path .= '/'.$name;
            clearstatcache(true, $path);
            if ('' !== $name && is_link($path)) {
                throw LeadsAway::through($path);
            }
        }
        $real = realpath($folder);
        if (
            !str_starts_with($folder.'/', $this->root.'/')
            || (false !== $real && $real !== rtrim($this->realRoot.substr($folder, \strlen($this->root)), '/'))
        ) {
            throw LeadsAway::through($folder);
        }
    }

    /** @param resource $file open */
    public function isUnder($file): bool
    {
        return (fstat($file)['dev'] ?? null) === $this->device;
    }
}
