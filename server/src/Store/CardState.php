<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

enum CardState: string
{
    case Waiting = 'waiting';
    case Reading = 'reading';
    case Read = 'read';
    case Unreadable = 'unreadable';
}
