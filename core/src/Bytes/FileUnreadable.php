<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** A file's bytes cannot be had at all; what its facts are stays unknown. */
final class FileUnreadable extends \RuntimeException
{
    private function __construct(string $message, public readonly string $reason)
    {
        parent::__construct($message);
    }

    public static function at(string $path, string $reason): self
    {
        return new self(
            \sprintf('“%s” could not be read (%s). It is untouched where it lies.', basename($path), $reason),
            $reason,
        );
    }
}
