<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** What an intake does, or did, with a frame. The values are those of the headless contract. */
enum FrameState: string
{
    case New = 'new';
    case Filed = 'filed';
    case LeftOut = 'left_out';
    case Unreadable = 'unreadable';
    case Copied = 'copied';
    case Failed = 'failed';
}
