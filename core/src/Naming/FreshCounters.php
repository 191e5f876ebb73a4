<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** For plans without a past. */
final class FreshCounters implements CountersSoFar
{
    public function last(CounterScope $scope, string $key): ?int
    {
        return null;
    }
}
