<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Copy\Transfer;

/** A file that this worker has, as it is now, and its card as it is in now. */
final class ClaimedFile
{
    public function __construct(private Transfer $transfer, public readonly CardAt $card)
    {
    }

    public function transfer(): Transfer
    {
        return $this->transfer;
    }

    /** It is that from now on, and kept so; for {@see Transfers}. */
    public function is(Transfer $now): void
    {
        $this->transfer = $now;
    }

    /** Absolute: where it lies on its card. */
    public function path(): string
    {
        return $this->card->root.'/'.$this->transfer->source();
    }
}
