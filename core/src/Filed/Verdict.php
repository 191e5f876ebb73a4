<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** What a photographer made of a frame at first look. */
enum Verdict: string
{
    case Kept = 'kept';
    case Struck = 'struck';
    case Open = 'open';
}
