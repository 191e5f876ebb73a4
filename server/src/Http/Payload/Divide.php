<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\NotATimeOfDay;

final readonly class Divide
{
    /** @param int<1, max>|null $breakAfter minutes; null: gaps never divide */
    public function __construct(
        public string $dayStarts,
        public DivideBy $by,
        #[Assert\Positive(message: 'must be 1 minute at least')]
        public ?int $breakAfter = null,
    ) {
    }

    /** @throws NotATimeOfDay */
    public function division(): Division
    {
        return new Division(DayBoundary::at($this->dayStarts), $this->breakAfter, $this->by);
    }
}
