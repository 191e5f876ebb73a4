<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Card\CardFile;

/** A frame with the names its files will have. */
final readonly class PlannedFrame
{
    private FrameState $state;

    /**
     * @param list<string>   $to       relative to the shelf, one for each file that comes along; empty unless the frame
     *                                 is copied
     * @param list<CardFile> $along    the files that come along, or are compared, in the same order
     * @param int|null       $number   the counter's, where the pattern has one
     * @param bool           $collided whether the name it would have had was taken
     * @param list<string>   $filedAs  the names that its files have when its raw files are DNG, those of DNGs beside
     *                                 them at the end; else as `to`
     * @param int            $bytesOfDng at most, beside what is copied
     * @param list<string>   $equals   for a frame that seems to be on the sheet twice: the names that the other one's
     *                                 files will have, in the order of `along`
     * @param int|null       $filedWith the frame of the other slot whose second half it is: they are filed as one
     * @param list<CardFile> $apart  of the files that come along, those that are filed as a frame of their own
     * @param int|null       $apartNumber the counter's in their name
     */
    public function __construct(
        public FrameToFile $frame,
        public array $to,
        public array $along,
        public ?int $number = null,
        public bool $collided = false,
        public array $equals = [],
        public array $filedAs = [],
        public int $bytesOfDng = 0,
        public ?int $filedWith = null,
        public array $apart = [],
        public ?int $apartNumber = null,
    ) {
        $this->state = FrameState::New === $frame->state && [] === $to ? FrameState::Filed : $frame->state;
    }

    /** What will be done with it: a frame of which everything wanted is filed already is filed. */
    public function state(): FrameState
    {
        return $this->state;
    }

    /** @return list<string> where the ledger has its files, or will have those of the frame that it equals */
    public function sameAs(): array
    {
        return FrameState::Filed !== $this->state
            ? []
            : array_values(array_filter([] === $this->equals ? $this->frame->sameAs : $this->equals, is_string(...)));
    }

    /** Whether it puts a filed copy right that is missing or damaged. */
    public function repairs(): bool
    {
        return FrameState::New === $this->state
            && \count($this->along) > \count($this->frame->without($this->along, $this->frame->repairs));
    }

    /** Frames that are filed of it: two of a pair that goes apart, none of the second half of another. */
    public function frames(): int
    {
        return match (true) {
            FrameState::New !== $this->state, null !== $this->filedWith, $this->frame->isLoose() => 0,
            [] !== $this->apart => 2,
            default => 1,
        };
    }

    /** Bytes that will be written to each destination. */
    public function bytes(): int
    {
        $bytes = 0;
        foreach ([] === $this->to ? [] : $this->along as $file) {
            $bytes += $file->bytes;
        }

        return $bytes;
    }
}
