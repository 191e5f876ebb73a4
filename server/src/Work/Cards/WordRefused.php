<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Server\Refusal;

/** A word about a card cannot be taken now: it would be about something else than what is on it. */
final class WordRefused extends \RuntimeException implements Refusal
{
    public function status(): int
    {
        return 409;
    }

    public static function cardChanged(string $label, string $difference): self
    {
        return new self(
            \sprintf('%s: %s Nothing was noted; look at the card again, then say it.', $label, $difference),
        );
    }
}
