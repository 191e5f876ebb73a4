<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

/** Another worker took a file over while this one was at it. Whoever is second finds the file in its place and counts it as placed. */
final class ClaimLost extends \RuntimeException
{
    public static function of(string $source): self
    {
        return new self(\sprintf('%s was taken over by another worker.', $source));
    }
}
