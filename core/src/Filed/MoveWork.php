<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** Where the copies of a filed file are kept, and where they are on their way to. */
class MoveWork
{
    private Whereabouts $whereabouts = Whereabouts::InShoot;
    private ?Whereabouts $heading = null;
    private ?string $to = null;
    private ?string $note = null;
    private ?string $home = null;

    public function whereabouts(): Whereabouts
    {
        return $this->whereabouts;
    }

    /** Where they will be kept; null while nothing is under way. */
    public function heading(): ?Whereabouts
    {
        return $this->heading;
    }

    /** The path to which they are moved, relative to the shelf; null where none is, or they are to be deleted. */
    public function to(): ?string
    {
        return $this->to;
    }

    /** Why they are not there yet; null where nothing is in their way. */
    public function note(): ?string
    {
        return $this->note;
    }

    /** The path that is kept for them in their shoot; null while they lie there. */
    public function home(): ?string
    {
        return $this->home;
    }

    public function ask(Whereabouts $heading, ?string $to): void
    {
        [$this->heading, $this->to] = [$heading, $to];
    }

    public function wait(string $why): void
    {
        $this->note = $why;
    }

    /** @param string $from the path that they had */
    public function end(string $from): void
    {
        $this->whereabouts = $this->heading ?? $this->whereabouts;
        $this->home = Whereabouts::InShoot === $this->whereabouts ? null : $this->home ?? $from;
        $this->heading = $this->to = $this->note = null;
    }
}
