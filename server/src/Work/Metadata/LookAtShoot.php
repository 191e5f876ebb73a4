<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

/** Asks a worker to look whether another program changed the files of a shoot, and what they said themselves. */
final readonly class LookAtShoot
{
    public function __construct(public int $shootId)
    {
    }
}
