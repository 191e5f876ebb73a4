<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/** A file's metadata cannot be written without a risk to what is there; the file stays as it was. */
final class MetadataRefused extends \RuntimeException
{
    public static function packet(int $line, string $reason): self
    {
        return new self(\sprintf('its XMP packet is not well formed (line %d: %s)', $line, rtrim($reason, ".\n ")));
    }

    public static function encoding(string $name): self
    {
        return new self(\sprintf('its XMP is in the encoding %s, and only UTF-8 and UTF-16 are known', $name));
    }

    public static function structure(string $what): self
    {
        return new self($what);
    }

    public static function tooLong(string $what, int $most): self
    {
        return new self(\sprintf('%s would be longer than the %d bytes that fit', $what, $most));
    }

    public static function picture(): self
    {
        return new self('its picture data would have changed');
    }
}
