<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** What makes a new entry. The values are those of the house style's schema. */
enum DivideBy: string
{
    case Day = 'day';
    case Pause = 'pause';
    case Camera = 'camera';
    case Nothing = 'nothing';
}
