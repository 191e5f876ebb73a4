<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** A table of verdicts that cannot be taken in; the message is a sentence for people. */
final class VerdictsUnreadable extends \RuntimeException
{
    public static function file(string $path, string $why): self
    {
        return new self(\sprintf('%s was not taken in: %s. No verdict was changed.', $path, $why));
    }

    /** Others may be taken in. */
    public static function sidecar(string $path, string $why): self
    {
        return new self(\sprintf('%s was not taken in: %s. Its frame stays as it is.', $path, $why));
    }
}
