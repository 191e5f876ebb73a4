<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A file was to be taken to a step that does not follow from the one that it is at: an error of the program. */
final class NoSuchStep extends \LogicException
{
    public static function from(string $source, FileStep $at, FileStep $next): self
    {
        return new self(\sprintf('%s is %s, and cannot be %s next.', $source, $at->value, $next->value));
    }
}
