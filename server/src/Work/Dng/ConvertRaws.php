<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

/** Asks a worker to convert filed raw files whose intake is over, or to take them out of their DNGs again. */
final readonly class ConvertRaws
{
}
