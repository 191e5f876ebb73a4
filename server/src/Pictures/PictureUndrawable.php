<?php

declare(strict_types=1);

namespace Velvet\Server\Pictures;

final class PictureUndrawable extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self(\sprintf('The picture cannot be shown (%s). The file itself is untouched.', $reason));
    }

    public static function noneInside(): self
    {
        return new self('There is no picture inside this file that can be shown. The file itself is untouched.');
    }
}
