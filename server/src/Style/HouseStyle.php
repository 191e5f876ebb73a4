<?php

declare(strict_types=1);

namespace Velvet\Server\Style;

use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\Division;

/** The rules that hold until house styles can be edited: by day from four in the morning, pauses do not divide, fixed names. */
final readonly class HouseStyle
{
    public const NAME = 'Standard';
    private const DAY_STARTS = '04:00';

    public function division(): Division
    {
        return new Division(DayBoundary::at(self::DAY_STARTS));
    }
}
