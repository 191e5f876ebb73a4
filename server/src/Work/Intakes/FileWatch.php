<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\Transfer;
use Velvet\Server\Store\ClaimedFile;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transfers;

/**
 * Looks on while a file is copied: lets one worker at a time read from a card, keeps the claim alive, tells the
 * browsers.
 */
final class FileWatch implements CopyWatch
{
    private const TELL_EVERY = 0.25; // seconds
    private const TRY_EVERY = 5_000; // microseconds

    public FileStep $step = FileStep::Copying;
    private bool $hasCard = false;
    private int $done = 0;
    private float $told;

    public function __construct(
        private readonly Locks $locks,
        private readonly Transfers $transfers,
        private readonly Happenings $happenings,
        private readonly ClaimedFile $claimed,
    ) {
        $this->told = microtime(true);
    }

    public function reading(): void
    {
        while (!$this->locks->isTaken(Lock::CardCopying, $this->claimed->card->id)) {
            usleep(self::TRY_EVERY);
            $this->transfers->prolong($this->claimed->transfer());
        }
        $this->hasCard = true;
    }

    public function read(int $bytes): void
    {
        $this->done += $bytes;
        $this->tell();
    }

    public function verifying(): void
    {
        $this->letGo();
        $this->transfers->step($this->claimed, static fn (Transfer $now) => $now->read());
        $this->step = FileStep::Verifying;
        $this->done = 0;
    }

    public function checked(int $bytes): void
    {
        $this->done += $bytes;
        $this->tell();
    }

    /** Lets the next worker read from the card. */
    public function letGo(): void
    {
        if ($this->hasCard) {
            $this->hasCard = false;
            $this->locks->release(Lock::CardCopying, $this->claimed->card->id);
        }
    }

    private function tell(): void
    {
        $this->transfers->prolong($this->claimed->transfer());
        if (microtime(true) - $this->told > self::TELL_EVERY) {
            $this->told = microtime(true);
            $this->happenings->tell(
                'intake',
                [
                    'id' => $this->claimed->transfer()->intake(),
                    'target' => $this->claimed->transfer()->target(),
                    'step' => $this->step->value,
                    'bytes_within' => $this->done,
                ],
            );
        }
    }
}
