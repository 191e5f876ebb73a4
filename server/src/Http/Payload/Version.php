<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

enum Version: string
{
    case Theirs = 'theirs';
    case Ours = 'ours';
}
