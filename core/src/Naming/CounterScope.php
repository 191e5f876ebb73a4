<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** What a counter counts through; it starts again with the next. */
enum CounterScope: string
{
    case Shoot = 'shoot';
    case Day = 'day';
    case Intake = 'intake';
    case Year = 'year';
}
