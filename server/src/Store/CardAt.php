<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** A card that is known, and where it was in last. */
final readonly class CardAt
{
    /**
     * @param string $root     absolute
     * @param string $identity what makes it this card, as the ledger has it
     */
    public function __construct(public int $id, public string $root, public string $label, public string $identity)
    {
    }
}
