<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** How far counters of days and years have come in earlier intakes. */
interface CountersSoFar
{
    /**
     * @param string $key a day `YYYY-MM-DD` or a year `YYYY`
     *
     * @return int|null the highest number given so far
     */
    public function last(CounterScope $scope, string $key): ?int;
}
