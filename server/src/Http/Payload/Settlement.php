<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

/** What becomes of what another program changed in a file. */
final readonly class Settlement implements Payload
{
    public function __construct(public Version $keep)
    {
    }
}
