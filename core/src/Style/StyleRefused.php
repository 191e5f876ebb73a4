<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

/** A house style that cannot be taken, with the place in it that is wrong. */
final class StyleRefused extends \DomainException
{
    public static function at(string $where, string $why): self
    {
        return new self(\sprintf('The house style was not taken: %s: %s', $where, $why));
    }

    public static function notAnObject(): self
    {
        return new self('The house style was not taken: it is not a JSON object. See docs/house-style.schema.json.');
    }

    /** @param string $where the members that lead to it, with dots between */
    public static function notInSchema(string $where): self
    {
        return self::at(
            '' === $where ? 'its rules' : $where,
            'it is not as docs/house-style.schema.json describes it.',
        );
    }
}
