<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;

final readonly class NewSheet implements Payload
{
    /** @param non-empty-list<int> $cards */
    public function __construct(#[Assert\Count(min: 1, minMessage: 'must name one at least')] public array $cards)
    {
    }
}
