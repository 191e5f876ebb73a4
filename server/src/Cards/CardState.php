<?php

declare(strict_types=1);

namespace Velvet\Server\Cards;

enum CardState: string
{
    case Waiting = 'waiting';
    case Reading = 'reading';
    case Read = 'read';
    case Unreadable = 'unreadable';
}
