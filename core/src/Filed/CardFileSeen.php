<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** One file that is on a card now, and what is known of its copies. */
final readonly class CardFileSeen
{
    /**
     * @param string         $path         on the card
     * @param int|null       $frame        of the frame that it belongs to; null for a file of no frame
     * @param string|null    $housekeeping the rule of {@see \Velvet\Core\Card\Housekeeping} that it falls under
     * @param bool           $leftOut      whether its frame was left out by hand
     * @param bool           $letGo        whether the photographer said that what was left out need not be filed
     * @param bool           $isFiled      whether the ledger has a file of this very content
     * @param list<CopySeen> $copies       of that file
     */
    public function __construct(
        public string $path,
        public ?int $frame,
        public ?string $housekeeping = null,
        public bool $leftOut = false,
        public bool $letGo = false,
        public bool $isFiled = false,
        public array $copies = [],
    ) {
    }

    /** @param list<CopySeen> $copies */
    public function withCopies(array $copies): self
    {
        return new self(
            $this->path,
            $this->frame,
            $this->housekeeping,
            $this->leftOut,
            $this->letGo,
            $this->isFiled,
            $copies,
        );
    }

    /** @return list<CopySeen> one for each file on a drive: two paths that lead to one file are one copy */
    public function places(): array
    {
        $places = [];
        foreach ($this->copies as $copy) {
            if (CopyStanding::Whole === $copy->standing) {
                $places[$copy->inode] ??= $copy;
            }
        }

        return array_values($places);
    }

    /** Whether two of its copies lie on drives that have nothing in common. */
    public function isOnTwoDrives(): bool
    {
        $places = $this->places();
        foreach ($places as $i => $one) {
            foreach (\array_slice($places, $i + 1) as $other) {
                if (null !== $one->drive && null !== $other->drive && $one->drive->isApartFrom($other->drive)) {
                    return true;
                }
            }
        }

        return false;
    }

    /** Whether nobody would miss it: housekeeping, or left out by the photographer's word. */
    public function isOfNoConcern(): bool
    {
        return null !== $this->housekeeping || ($this->leftOut && $this->letGo);
    }
}
