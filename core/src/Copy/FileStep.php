<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/**
 * Where one file of an intake stands. Each step may be repeated: what a crash interrupted begins again at `planned`.
 */
enum FileStep: string
{
    /** It waits for its turn. */
    case Planned = 'planned';
    /** It is being read from the card and written to its destinations, or read and compared. */
    case Copying = 'copying';
    /** Its copies are being synced, read back and named. */
    case Verifying = 'verifying';
    /** Every destination has verified it, and the ledger has it. */
    case Filed = 'filed';
    /** It proved equal to the last byte to one that is filed; nothing was written. */
    case Same = 'same';
    /** It is not filed; the reason is kept. */
    case Failed = 'failed';

    /** How often a file is tried before it is set down as failed. */
    public const MOST_TRIES = 3;

    public function mayBecome(self $next): bool
    {
        return \in_array($next, match ($this) {
            self::Planned => [self::Copying],
            self::Copying => [self::Verifying, self::Same, self::Failed, self::Planned],
            self::Verifying => [self::Filed, self::Failed, self::Planned],
            self::Failed => [self::Planned],
            self::Filed, self::Same => [],
        }, true);
    }

    /** Whether somebody is at work on it. */
    public function isUnderWay(): bool
    {
        return self::Copying === $this || self::Verifying === $this;
    }

    /** Whether the card may be formatted as far as this file is concerned. */
    public function isDone(): bool
    {
        return self::Filed === $this || self::Same === $this;
    }

    /** What becomes of a file after it failed for the n-th time. */
    public static function afterFailure(TransferFailure $failure, int $tries): self
    {
        return $failure->isWorthAnotherTry() && $tries < self::MOST_TRIES ? self::Planned : self::Failed;
    }
}
