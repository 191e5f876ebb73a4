<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Halts;

/** Why an intake paused by itself. */
final readonly class Halt
{
    /**
     * @param string|null $awaits the root that must be there again before it goes on by itself; null: it waits for a
     *                            person
     */
    public function __construct(public string $why, public ?string $awaits = null)
    {
    }
}
