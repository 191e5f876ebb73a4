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

    public static function member(string $name, string $what): self
    {
        return new self(\sprintf('“%s” must be %s.', $name, $what));
    }

    public function status(): int
    {
        return 422;
    }
}
