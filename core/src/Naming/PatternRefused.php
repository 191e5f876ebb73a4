<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** A pattern that could not name anything, or not everything. */
final class PatternRefused extends \DomainException
{
    public static function empty(): self
    {
        return new self('A pattern needs at least one piece.');
    }

    public static function tooLong(int $most): self
    {
        return new self(\sprintf('A pattern may have %d pieces at most; this one is longer.', $most));
    }

    public static function notUnique(): self
    {
        return new self(
            'Nothing in this file pattern tells two frames of a shoot apart. Add a counter, the original name, the '
                .'original number, or the time of the shot.',
        );
    }

    public static function ofTheFrame(PieceKind $kind): self
    {
        return new self(
            \sprintf(
                '“%s” differs from frame to frame and cannot stand in the name of a folder.',
                str_replace('_', ' ', $kind->value),
            ),
        );
    }

    public static function onlyInNames(PieceKind $kind): self
    {
        return new self(
            \sprintf('The piece “%s” numbers names; a text cannot say it.', str_replace('_', ' ', $kind->value)),
        );
    }

    public static function manyCounters(): self
    {
        return new self('A pattern can have one counter only.');
    }

    public static function badDatePattern(string $pattern): self
    {
        return new self(
            \sprintf(
                '“%s” is not a date pattern. Write one as in yyyy-MM-dd (Unicode LDML, “Date Field Symbol Table”).',
                $pattern,
            ),
        );
    }

    public static function emptyText(): self
    {
        return new self('A piece of free text must have a text that can stand in a name.');
    }

    public static function outOfRange(string $what, int $least, int $most): self
    {
        return new self(\sprintf('The %s must be a whole number from %d to %d.', $what, $least, $most));
    }

    public static function unknown(string $what, string $value): self
    {
        return new self(\sprintf('There is no %s “%s”.', $what, mb_strimwidth($value, 0, 60, '…')));
    }
}
