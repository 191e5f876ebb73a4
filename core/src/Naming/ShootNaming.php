<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Shoot\Day;

/** What the names of a shoot's folder and of all its files can say. */
final readonly class ShootNaming
{
    /**
     * @param Day|null $day  null for frames without any date
     * @param string   $trip that the shoot belongs to; empty for none
     */
    public function __construct(
        public ?Day $day,
        public string $name,
        public string $kind = '',
        public string $client = '',
        public string $initials = '',
        public string $trip = '',
        public ShootFrames $frames = new ShootFrames(),
    ) {
    }
}
