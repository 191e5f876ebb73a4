<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

final class NotATimeOfDay extends \InvalidArgumentException
{
    public static function of(string $text): self
    {
        return new self(\sprintf('“%s” is not a time of day. Write hours and minutes, as in 04:00.', $text));
    }
}
