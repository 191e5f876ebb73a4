<?php

declare(strict_types=1);

namespace Velvet\Bench;

/** What a command took, those that it started counted with it. */
final readonly class Usage
{
    /**
     * @param int                $read    bytes that were asked of files
     * @param int                $written bytes that were given to files
     * @param array<string, int> $peaks   the most bytes of memory of each program, by its name
     */
    public function __construct(
        public float $seconds,
        public int $read,
        public int $written,
        public array $peaks,
    ) {
    }
}
