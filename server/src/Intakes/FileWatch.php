<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\FileStep;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;

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
        private readonly Claims $claims,
        private readonly Happenings $happenings,
        private readonly Row $transfer,
    ) {
        $this->told = microtime(true);
    }

    public function reading(): void
    {
        while (!$this->locks->isTaken(Lock::CardCopying, $this->transfer->int('card_id'))) {
            usleep(self::TRY_EVERY);
            $this->claims->prolong($this->transfer->int('id'));
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
        $this->claims->step($this->transfer, FileStep::Copying, FileStep::Verifying);
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
            $this->locks->release(Lock::CardCopying, $this->transfer->int('card_id'));
        }
    }

    private function tell(): void
    {
        $this->claims->prolong($this->transfer->int('id'));
        if (microtime(true) - $this->told > self::TELL_EVERY) {
            $this->told = microtime(true);
            $this->happenings->tell(
                'intake',
                [
                    'id' => $this->transfer->int('intake_id'),
                    'target' => $this->transfer->text('target'),
                    'step' => $this->step->value,
                    'bytes_within' => $this->done,
                ],
            );
        }
    }
}
