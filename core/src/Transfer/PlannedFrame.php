<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

use Velvet\Core\Card\CardFile;

/** A frame with the names its files will have. */
final readonly class PlannedFrame
{
    /**
     * @param list<string>   $to       relative to the shelf, one for each file that comes along; empty unless the frame is copied
     * @param list<CardFile> $along    the files that come along, in the same order
     * @param int|null       $number   the counter's, where the pattern has one
     * @param bool           $collided whether the name it would have had was taken
     */
    public function __construct(public FrameToFile $frame, public array $to, public array $along, public ?int $number = null, public bool $collided = false)
    {
    }

    /** What will be done with it: a frame of which everything wanted is filed already is filed. */
    public function state(): FrameState
    {
        return FrameState::New === $this->frame->state && [] === $this->to ? FrameState::Filed : $this->frame->state;
    }

    /** Where the ledger has it, or the first of its files that it has. */
    public function sameAs(): ?string
    {
        return FrameState::Filed === $this->state() ? array_values(array_filter($this->frame->sameAs, is_string(...)))[0] ?? null : null;
    }

    public function bytes(): int
    {
        return array_sum(array_map(static fn (CardFile $file): int => $file->bytes, $this->along));
    }
}
