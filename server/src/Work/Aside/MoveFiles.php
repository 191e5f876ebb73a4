<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

/** Asks a worker to bring files where they are on their way to. */
final readonly class MoveFiles
{
}
