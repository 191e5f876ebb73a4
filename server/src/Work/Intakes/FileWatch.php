<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\Transfer;
use Velvet\Server\Store\ClaimedFile;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transfers;

/**
 * Looks on while files of one card are copied: lets one worker at a time read from it, keeps the claims alive, tells
 * the browsers.
 */
final class FileWatch implements CopyWatch
{
    private const TELL_EVERY = 0.25; // seconds
    private const TRY_EVERY = 5_000; // microseconds

    public FileStep $step = FileStep::Copying;
    private bool $hasCard = false;
    private int $done = 0;
    private float $told;
    private ClaimedFile $now;

    /**
     * @param non-empty-list<ClaimedFile> $claimed in the order in which they are copied
     * @param \Closure(string): void|null $onFile  told of each file before it is copied
     */
    public function __construct(
        private readonly Locks $locks,
        private readonly Transfers $transfers,
        private readonly Happenings $happenings,
        private readonly array $claimed,
        private readonly ?\Closure $onFile = null,
    ) {
        $this->told = microtime(true);
        $this->now = $claimed[0];
    }

    public function file(FileToCopy $file): void
    {
        foreach ($this->claimed as $one) {
            if ($one->path() === $file->source) {
                $this->now = $one;
                break;
            }
        }
        $this->done = 0;
        if (FileStep::Copying === $this->step && null !== $this->onFile) {
            ($this->onFile)($this->now->transfer()->source());
        }
    }

    public function reading(): void
    {
        while (!$this->locks->isTaken(Lock::CardCopying, $this->now->card->id)) {
            usleep(self::TRY_EVERY);
            $this->transfers->prolong($this->claimed);
        }
        $this->hasCard = true;
    }

    public function read(int $bytes): void
    {
        $this->done += $bytes;
        $this->tell();
    }

    public function verifying(array $read): array
    {
        $this->letGo();
        $read = array_filter($read);
        $this->step = FileStep::Verifying;
        $this->done = 0;

        return $this->transfers->stepAll(
            array_intersect_key($this->claimed, $read),
            static fn (Transfer $now, int $i) => $now->read($read[$i]->digest()),
        );
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
            $this->locks->release(Lock::CardCopying, $this->now->card->id);
        }
    }

    private function tell(): void
    {
        $this->transfers->prolong($this->claimed);
        if (microtime(true) - $this->told > self::TELL_EVERY) {
            $this->told = microtime(true);
            $this->happenings->tell(
                'intake',
                [
                    'id' => $this->now->transfer()->intake(),
                    'target' => $this->now->transfer()->target(),
                    'step' => $this->step->value,
                    'bytes_within' => $this->done,
                ],
            );
        }
    }
}
