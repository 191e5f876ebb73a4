<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** What the names of a shoot's folder and of all its files can say. */
final readonly class ShootNaming
{
    /** @param string|null $day `YYYY-MM-DD`; null for frames without any date */
    public function __construct(
        public ?string $day,
        public string $name,
        public string $kind = '',
        public string $client = '',
        public string $initials = '',
    ) {
    }
}
