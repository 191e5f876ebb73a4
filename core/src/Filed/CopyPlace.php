<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** A place that holds copies: a root on one drive. */
final readonly class CopyPlace
{
    /**
     * @param string       $root    absolute
     * @param string       $drive   its id; empty where it was not known when copies were set down there
     * @param bool         $isShelf whether the root is the shelf's or its twin's still
     * @param array<mixed> $drives  those of the shelf, as {@see \Velvet\Core\Copy\Drives::toArray()} gave them
     */
    public function __construct(
        public int $id,
        public string $root,
        public string $drive,
        public bool $isShelf,
        public array $drives,
    ) {
    }
}
