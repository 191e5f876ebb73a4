<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Copy\Transfer;

/** A file that this worker has, and its card as it is in now. */
final readonly class ClaimedFile
{
    public function __construct(public Transfer $transfer, public CardAt $card)
    {
    }

    /** Absolute: where it lies on its card. */
    public function path(): string
    {
        return $this->card->root.'/'.$this->transfer->source();
    }
}
