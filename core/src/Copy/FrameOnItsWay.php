<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A frame whose files are on their way, with what is shown of it. Intake, entry and card by their ids. */
final readonly class FrameOnItsWay
{
    /**
     * @param int          $id         of the frame on the card; where its files are filed as two, the second has the
     *                                 negative
     * @param int          $position   among the frames that are filed of its entry, and those that are not, from 0
     * @param string|null  $picture    key of the picture to be shown
     * @param string|null  $capturedAt `YYYY-MM-DD HH:MM:SS.mmm`, corrected
     * @param array<mixed> $facts      as the sheet shows them
     * @param int|null     $counter    the number in its name
     * @param bool         $loose      whether it is no frame, but the loose files of a card taken together
     */
    public function __construct(
        public int $intake,
        public int $entry,
        public int $id,
        public int $position,
        public int $card,
        public ?string $picture,
        public ?string $capturedAt,
        public array $facts,
        public ?int $counter,
        public bool $loose = false,
    ) {
    }

    /**
     * The second one, of the files of a frame that are filed as two.
     *
     * @param int         $position its own
     * @param string|null $picture  its own
     */
    public function second(int $position, ?string $picture, ?int $counter): self
    {
        return new self(
            $this->intake,
            $this->entry,
            -$this->id,
            $position,
            $this->card,
            $picture,
            $this->capturedAt,
            $this->facts,
            $counter,
        );
    }
}
