<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

/** A keyword that cannot be, or cannot be where it is wanted. */
final class KeywordRefused extends \DomainException
{
    public static function empty(): self
    {
        return new self('A keyword needs at least one letter.');
    }

    public static function stepInName(string $name): self
    {
        return new self(\sprintf('“%s” has a “›” in it, which parts a keyword from those above it.', $name));
    }

    public static function tooLong(string $name, int $most): self
    {
        return new self(
            \sprintf(
                '“%s…” is longer than %d characters; keywords are short, and the description has room for more.',
                mb_substr($name, 0, 30),
                $most,
            ),
        );
    }

    /** @param list<string> $names */
    public static function tooDeep(array $names, int $most): self
    {
        return new self(
            \sprintf('“%s …” has more than %d steps.', implode(KeywordPath::STEP, \array_slice($names, 0, 3)), $most),
        );
    }

    public static function taken(KeywordPath $path): self
    {
        return new self(
            \sprintf('There is a keyword “%s” already. Merge the two if they mean the same.', $path->text()),
        );
    }

    public static function intoItself(string $name): self
    {
        return new self(\sprintf('“%s” cannot go into itself or beneath itself.', $name));
    }
}
