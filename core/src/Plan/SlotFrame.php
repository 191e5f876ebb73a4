<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** A frame whose name is given, with which another one may be filed. */
final readonly class SlotFrame
{
    /**
     * @param int          $frame  its id
     * @param int|null     $number in its name
     * @param list<string> $kinds  of its pictures, those of the frames that are filed with it among them
     */
    public function __construct(public int $frame, public string $stem, public ?int $number, public array $kinds)
    {
    }

    /** @param list<string> $kinds */
    public function with(array $kinds): self
    {
        return new self($this->frame, $this->stem, $this->number, [...$this->kinds, ...$kinds]);
    }
}
