<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Naming\CounterScope;
use Velvet\Core\Naming\CountersSoFar;

/** How far counters have come, as filed frames tell. */
final readonly class FiledCounters implements CountersSoFar
{
    public function __construct(private Rows $rows)
    {
    }

    public function last(CounterScope $scope, string $key): ?int
    {
        $where = match ($scope) {
            CounterScope::Day => 's.day = CAST(nullif(:key, \'\') AS date)',
            CounterScope::Year => "to_char(s.day, 'YYYY') = :key",
            CounterScope::Shoot, CounterScope::Intake => 'false AND :key IS NOT NULL',
        };

        return $this->rows->one(
            'SELECT max(f.counter) AS last FROM filed_frame f JOIN shoot s ON s.id = f.shoot_id WHERE '.$where,
            ['key' => $key],
        )->intOrNull('last');
    }
}
