<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

/**
 * What a request asks for, as its body says it: a JSON object with the members of such a class and no others, each of
 * its type ({@see PayloadResolver}). A member that is null is as if it were not there.
 */
interface Payload
{
}
