<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;

/**
 * What is to be written into a filed file, and what became of it. The content that takes the place of the old one is
 * set down before it does, so that after a crash it is known which copy is already new.
 */
class MetadataWork
{
    private MetadataState $state;
    /** Counts what was asked for: what is asked for while something else is written is still to be done. */
    private int $wanted = 0;
    private ?int $begun = null;
    private ?string $note = null;
    private int $tries = 0;
    private ?string $digest = null;
    private ?string $second = null;
    private ?int $bytes = null;

    public function __construct(bool $waits = false)
    {
        $this->state = $waits ? MetadataState::Waiting : MetadataState::None;
    }

    public function state(): MetadataState
    {
        return $this->state;
    }

    public function isWaiting(): bool
    {
        return MetadataState::Waiting === $this->state;
    }

    public function wanted(): int
    {
        return $this->wanted;
    }

    /** A sentence on what was cut, or why nothing was written. */
    public function note(): ?string
    {
        return $this->note;
    }

    /** The content that is about to take its place, or that has on some drives; null while nothing is begun. */
    public function begun(): ?Content
    {
        return null === $this->digest
            ? null
            : new Content(Digest::fromHex($this->digest), $this->bytes ?? 0, $this->second);
    }

    public function ask(): void
    {
        $this->state = MetadataState::Waiting;
        ++$this->wanted;
        $this->note = null;
        $this->tries = 0;
    }

    /** @param int $wanted as it was when what is said was asked */
    public function begin(int $wanted, Content $new): void
    {
        $this->begun = $wanted;
        [$this->digest, $this->second, $this->bytes] = [$new->digest->hex, $new->second, $new->bytes];
    }

    public function undo(): void
    {
        $this->digest = $this->second = $this->bytes = null;
    }

    /** @return int how often by now */
    public function tryAgain(): int
    {
        return ++$this->tries;
    }

    public function end(string $note): void
    {
        $this->state = $this->begun === $this->wanted ? MetadataState::Written : MetadataState::Waiting;
        $this->note = '' === $note ? null : $note;
        $this->tries = 0;
        $this->undo();
    }

    /** It still waits, and something is to be known of it. */
    public function remark(string $note): void
    {
        $this->note = $note;
    }

    public function refuse(string $why): void
    {
        $this->state = MetadataState::Refused;
        $this->note = $why;
    }

    /** What the file contained is on other drives, and this copy gets it from there. */
    public function goOnWith(Content $now): void
    {
        $this->state = MetadataState::Waiting;
        $this->begin($this->wanted, $now);
    }

    /** The file says what its frame says, whoever wrote it. */
    public function agree(): void
    {
        $this->state = MetadataState::Written;
    }

    /** The file has another content than what was said of it was written into. */
    public function beginAnew(bool $waits): void
    {
        $this->state = $waits ? MetadataState::Waiting : MetadataState::None;
        ++$this->wanted;
        $this->note = null;
        $this->undo();
    }
}
