<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Style\DngChoice;

/** Where a filed file stands on its way to DNG and back, and what is known of its samples. */
class DngWork
{
    private DngState $state = DngState::None;
    private ?DngChoice $choice = null;
    private ?string $note = null;
    private ?string $samples = null;
    private ?string $rawPath = null;

    public function __construct(DngChoice $choice = DngChoice::No)
    {
        if (DngChoice::No !== $choice) {
            $this->ask(DngState::Waiting, $choice);
        }
    }

    public function state(): DngState
    {
        return $this->state;
    }

    public function choice(): DngChoice
    {
        return $this->choice ?? DngChoice::No;
    }

    /** Why it was not done. */
    public function note(): ?string
    {
        return $this->note;
    }

    /** MD5 of the samples, hexadecimal, where the file is a DNG of ours. */
    public function samples(): ?string
    {
        return $this->samples;
    }

    /** The path on the shelf that the raw file had before its DNG took its place. */
    public function rawPath(): ?string
    {
        return $this->rawPath;
    }

    /** Whether the file is to become its own DNG, or a raw file again: nothing is written into it meanwhile. */
    public function replacesTheFile(): bool
    {
        return $this->state->isUnderWay() && DngChoice::Beside !== $this->choice;
    }

    public function ask(DngState $state, DngChoice $choice): void
    {
        [$this->state, $this->choice, $this->note] = [$state, $choice, null];
    }

    public function refuse(string $why): void
    {
        [$this->state, $this->note] = [DngState::Refused, $why];
    }

    public function end(): void
    {
        $this->state = DngState::Made;
    }

    public function took(string $rawPath, string $samples): void
    {
        [$this->state, $this->rawPath, $this->samples] = [DngState::Leaving, $rawPath, $samples];
    }

    public function gaveBack(): void
    {
        [$this->state, $this->choice] = [DngState::Made, DngChoice::Beside];
        $this->rawPath = $this->samples = null;
    }

    /** The raw file is to become what it was made into before. */
    public function beginAnew(): void
    {
        $this->ask(DngState::Waiting, $this->choice());
        $this->rawPath = $this->samples = null;
    }

    public static function ofMade(string $samples): self
    {
        $work = new self();
        $work->samples = $samples;

        return $work;
    }
}
