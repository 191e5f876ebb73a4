<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabWriting;

final readonly class TabChange implements Payload
{
    public function __construct(
        public ?string $name = null,
        public ?TabColour $colour = null,
        public ?TabWriting $writes = null,
    ) {
    }
}
