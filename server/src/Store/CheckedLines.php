<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** The lines of the ledger whose seals were computed anew and fitted. */
final readonly class CheckedLines
{
    /**
     * @param int    $last the number of the last of them
     * @param string $seal of that one, 64 hexadecimal digits
     */
    public function __construct(public int $lines, public int $last, public string $seal, public \DateTimeImmutable $at)
    {
    }
}
