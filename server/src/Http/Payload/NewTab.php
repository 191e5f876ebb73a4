<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabWriting;

final readonly class NewTab implements Payload
{
    /** @param TabColour|null $colour null: the one that fewest tabs have */
    public function __construct(
        public string $name,
        public ?TabColour $colour = null,
        public TabWriting $writes = TabWriting::Nothing,
    ) {
    }
}
