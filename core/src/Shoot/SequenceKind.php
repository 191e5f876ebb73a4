<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

enum SequenceKind
{
    case Interval;
    case Bracket;
    case Burst;
}
