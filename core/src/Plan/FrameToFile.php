<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Shoot\InRun;

/**
 * A frame as the plan takes it. All lists about its files are in their order, and empty where there is nothing to say.
 */
final readonly class FrameToFile
{
    private bool $loose;

    /**
     * @param int                      $id           the caller's own; comes back untouched
     * @param non-empty-list<CardFile> $files
     * @param list<string|null>        $sameAs       where the ledger has each file already; null for those it has not
     * @param list<string|null>        $fingerprints hexadecimal; null for files that could not be read
     * @param list<string|null>        $repairs      where the ledger has each file, but a copy is missing or damaged
     *                                               now
     * @param Exposed|null             $exposed      what runs are recognised by; null where that plays no part
     */
    public function __construct(
        public int $id,
        public array $files,
        public FrameNaming $naming,
        public FrameState $state = FrameState::New,
        public array $sameAs = [],
        public array $fingerprints = [],
        public array $repairs = [],
        public ?Exposed $exposed = null,
    ) {
        $this->loose = $files[0]->kind->isLoose(); // it is asked for a dozen times of each of thousands
    }

    /** @param InRun|null $run its place within a bracket, a burst or a time-lapse */
    public function inRun(?InRun $run): self
    {
        return $run === $this->naming->run ? $this : new self(
            $this->id,
            $this->files,
            $this->naming->inRun($run),
            $this->state,
            $this->sameAs,
            $this->fingerprints,
            $this->repairs,
            $this->exposed,
        );
    }

    /** As {@see \Velvet\Core\Card\Frame::isLoose()}. */
    public function isLoose(): bool
    {
        return $this->loose;
    }

    /** The same, where a rule leaves it on the card. */
    public function leftOut(): self
    {
        return new self(
            $this->id,
            $this->files,
            $this->naming,
            FrameState::LeftOut,
            $this->sameAs,
            $this->fingerprints,
            $this->repairs,
            $this->exposed,
        );
    }

    /** @return list<CardFile> that could be read */
    public function readable(): array
    {
        return array_values(array_filter(
            $this->files,
            fn (int $n): bool => null !== ($this->fingerprints[$n] ?? null),
            \ARRAY_FILTER_USE_KEY,
        ));
    }

    /**
     * @param list<CardFile>    $files some of the frame's
     * @param list<string|null> $of    one of the lists about its files
     *
     * @return list<CardFile> those of which it says nothing
     */
    public function without(array $files, array $of): array
    {
        // of thousands of frames hardly one is known
        if ([] === $of || [null] === $of || [] === array_filter($of, is_string(...))) {
            return $files;
        }
        $places = array_flip(array_map(spl_object_id(...), $this->files)); // of loose files there may be thousands

        return array_values(array_filter(
            $files,
            static fn (CardFile $file): bool => null === ($of[$places[spl_object_id($file)]] ?? null),
        ));
    }

    /** Its place among the frame's files. */
    public function placeOf(CardFile $file): int
    {
        return (int) array_search($file, $this->files, true);
    }
}
