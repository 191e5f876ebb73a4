<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

/**
 * One line of the ledger, chained to the line before: its seal is the SHA-256 of the previous seal, the time, the event
 * and the details, so that no line can be changed or taken out unnoticed.
 */
final readonly class LedgerLine
{
    public const FIRST_SEAL = '0000000000000000000000000000000000000000000000000000000000000000';

    /**
     * @param string $at      RFC 3339 in UTC with microseconds
     * @param string $details JSON
     * @param string $seal    64 hexadecimal digits
     */
    private function __construct(
        public string $at,
        public string $event,
        public string $details,
        public string $before,
        public string $seal,
    ) {
    }

    /** @param array<string, mixed> $details */
    public static function after(string $sealBefore, \DateTimeImmutable $at, string $event, array $details): self
    {
        return self::sealed(
            $sealBefore,
            $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z'),
            $event,
            json_encode($details, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE),
        );
    }

    public static function sealed(string $before, string $at, string $event, string $details): self
    {
        return new self(
            $at,
            $event,
            $details,
            $before,
            hash('sha256', implode("\n", [$before, $at, $event, $details])),
        );
    }
}
