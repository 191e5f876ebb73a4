<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Copy\Drives;

/**
 * Where the verified copies of a filed file lie: below the shelf's root, and below its twin's where one was verified
 * there.
 */
final readonly class FilePlaces
{
    /**
     * @param non-empty-list<string> $roots     all of them, the shelf's first
     * @param list<string>           $connected those whose drives are
     * @param string                 $shelf     the shelf's root
     */
    private function __construct(
        public array $roots,
        public array $connected,
        public string $shelf,
        public Drives $drives,
    ) {
    }

    /**
     * @param string       $shelf  the shelf's root
     * @param string|null  $twin   its twin's
     * @param list<string> $copies roots at which a copy was verified; others than these two are passed over
     */
    public static function of(string $shelf, ?string $twin, array $copies, Drives $drives): self
    {
        $roots = array_values(array_intersect(array_filter([$shelf, $twin], is_string(...)), $copies));

        return new self(
            [] === $roots ? [$shelf] : $roots,
            array_values(array_filter($roots, $drives->has(...))),
            $shelf,
            $drives,
        );
    }

    public function areConnected(): bool
    {
        return \count($this->connected) === \count($this->roots);
    }
}
