<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/** A file's metadata cannot be written without a risk to what is there; the file stays as it was. */
final class MetadataRefused extends \RuntimeException
{
    public static function structure(string $what): self
    {
        return new self($what);
    }

    public static function picture(): self
    {
        return new self('its picture data would have changed');
    }
}
