<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

/** Asks for a card to be read in the background. */
final readonly class ReadCard
{
    public function __construct(public int $cardId)
    {
    }
}
