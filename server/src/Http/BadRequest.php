<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Refusal;

final class BadRequest extends \RuntimeException implements Refusal
{
    public static function notJson(): self
    {
        return new self('The request’s body is not a JSON object.');
    }

    public static function notKept(): self
    {
        return new self('The request holds the character NUL, or a number that is too large. Nothing was changed.');
    }

    /** @param string $fault what it must be, as the rest of a sentence */
    public static function member(string $name, string $fault): self
    {
        return new self(\sprintf('“%s” %s. Nothing was changed.', $name, $fault));
    }

    /** @param array<string> $names */
    public static function unknown(array $names): self
    {
        return new self(\sprintf(
            '“%s” %s not known here. Nothing was changed.',
            implode('”, “', $names),
            1 === \count($names) ? 'is' : 'are',
        ));
    }

    public function status(): int
    {
        return 422;
    }
}
