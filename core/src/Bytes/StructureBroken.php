<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A container or packet breaks off, or holds what its standard does not know. The message is what is wrong with it, to
 * stand behind the file's name in a sentence.
 */
final class StructureBroken extends \RuntimeException
{
    /** @param string $what in words, as “its chunks break off” */
    public static function because(string $what): self
    {
        return new self($what);
    }

    public static function packet(int $line, string $reason): self
    {
        return new self(\sprintf('its XMP packet is not well formed (line %d: %s)', $line, rtrim($reason, ".\n ")));
    }

    public static function encoding(string $name): self
    {
        return new self(\sprintf('its XMP is in the encoding %s, and only UTF-8 and UTF-16 are known', $name));
    }

    public static function tooLong(string $what, int $most): self
    {
        return new self(\sprintf('%s would be longer than the %d bytes that fit', $what, $most));
    }
}
