<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;

readonly class Selection implements Payload
{
    /** @param non-empty-list<int>|null $frames null: all of the shoot */
    public function __construct(
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public ?array $frames = null,
    ) {
    }
}
