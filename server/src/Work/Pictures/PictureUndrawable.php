<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

final class PictureUndrawable extends \RuntimeException
{
    private function __construct(string $sentence, public readonly string $reason)
    {
        parent::__construct($sentence);
    }

    /** @param string $reason within the sentence, without a full stop */
    public static function because(string $reason): self
    {
        return new self(\sprintf('The picture cannot be shown (%s). The file itself is untouched.', $reason), $reason);
    }

    public static function noneInside(): self
    {
        return new self(
            'There is no picture inside this file that can be shown. The file itself is untouched.',
            'there is none inside',
        );
    }
}
