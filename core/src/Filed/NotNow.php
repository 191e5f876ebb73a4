<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** Something was to be done with a filed file in a state that does not allow it: an error of the program. */
final class NotNow extends \LogicException
{
    public static function may(string $path, string $what, string $state): self
    {
        return new self(\sprintf('%s cannot be %s now: it is %s.', $path, $what, $state));
    }
}
