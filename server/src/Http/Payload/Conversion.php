<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

enum Conversion: string
{
    case Beside = 'beside';
    case Embed = 'embed';
    case TakeOut = 'take_out';
}
