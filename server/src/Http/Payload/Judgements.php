<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;

final readonly class Judgements implements Payload
{
    /** @param non-empty-list<Judgement> $judgements in the order in which they were given */
    public function __construct(
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        #[Assert\Valid]
        public array $judgements,
    ) {
    }
}
