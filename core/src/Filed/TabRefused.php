<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** A tab that cannot be. */
final class TabRefused extends \DomainException
{
    public static function empty(): self
    {
        return new self('A tab needs a name.');
    }

    public static function tooLong(string $name, int $most): self
    {
        return new self(\sprintf(
            '“%s…” is longer than %d characters; a tab’s name is short.',
            mb_substr($name, 0, 20),
            $most,
        ));
    }

    public static function parted(string $name): self
    {
        return new self(\sprintf('“%s” has a semicolon in it, which parts one tab from the next in a list.', $name));
    }

    public static function taken(string $name): self
    {
        return new self(\sprintf('There is a tab “%s” already. Choose another name.', $name));
    }

    /** @param list<string> $there names of those that there are */
    public static function unknown(string $name, array $there): self
    {
        return new self(\sprintf(
            'There is no tab “%s”; no frame was changed. %s',
            $name,
            [] === $there ? 'There are no tabs yet.' : \sprintf('There are: %s.', implode(', ', $there)),
        ));
    }

    public static function tooMany(int $most): self
    {
        return new self(\sprintf('There are %d tabs already, and each needs a key. Delete one first.', $most));
    }
}
