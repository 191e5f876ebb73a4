<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** A card as it is at this moment, beside what is known of its files. */
final readonly class CardSeen
{
    /**
     * @param list<CardFileSeen> $files            everything on it
     * @param bool               $wasTakenIn       whether an intake of it has come to its end
     * @param list<string>       $against          sentences on what keeps it from being known: not read, changed since,
     * unreadable
     * @param bool               $oneDriveIsEnough the photographer's word for this card
     */
    public function __construct(
        public array $files,
        public bool $wasTakenIn,
        public array $against = [],
        public bool $oneDriveIsEnough = false,
    ) {
    }
}
