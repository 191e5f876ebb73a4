<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Bytes\Size;

/** Whether the copy may begin, as far as its plan tells. */
final readonly class Readiness
{
    /** Of so many entries that need a name each is said, for there is no more room in a sentence. */
    private const EACH_IS_SAID = 4;

    /** @param list<int> $unnamed numbers of entries that need a name */
    private function __construct(private bool $isEmpty, private bool $hasWork, private array $unnamed)
    {
    }

    /** @param bool $isToBeEntered whether cards of filed frames are to be entered in the ledger */
    public static function of(IntakePlan $plan, bool $isToBeEntered): self
    {
        return new self([] === $plan->entries, $plan->copiesAnything() || $isToBeEntered, $plan->unnamed());
    }

    /**
     * @param list<Room>   $rooms    of the shelf, and of its twin behind it; none where no shelf is chosen
     * @param list<string> $cardsOut labels of cards that are not in
     *
     * @return string|null what the copy waits for, in a sentence: the first thing that is to be seen to
     */
    public function waitsFor(array $rooms, array $cardsOut): ?string
    {
        return match (true) {
            $this->isEmpty => 'There are no frames on this card.',
            !$this->hasWork => 'Every frame here is filed already.',
            [] === $rooms => 'There is no shelf to copy to yet.',
            [] !== $cardsOut => \sprintf('The card %s is out. Put it in again.', $cardsOut[0]),
            default => self::roomOf($rooms) ?? $this->names(),
        };
    }

    /**
     * @param list<Room>   $rooms
     * @param list<string> $cardsOut
     *
     * @return int|null the number of the entry that needs a name next, where it is that what the copy waits for
     */
    public function waitsForNameOf(array $rooms, array $cardsOut): ?int
    {
        $names = $this->names();

        return null !== $names && $names === $this->waitsFor($rooms, $cardsOut) ? $this->unnamed[0] : null;
    }

    /** @param list<Room> $rooms */
    private static function roomOf(array $rooms): ?string
    {
        foreach ($rooms as $i => $room) {
            $role = 0 === $i ? 'shelf' : 'twin';
            if (null === $room->free) {
                return \sprintf('The %s “%s” is not connected.', $role, $room->path);
            }
            if (!$room->isWritable) {
                return \sprintf('The %s “%s” cannot be written to.', $role, $room->path);
            }
            if ($room->missing() > 0) {
                return \sprintf(
                    'The %s is short of %s; %s of it stay free.',
                    $role,
                    Size::inWords($room->missing()),
                    Size::inWords(Room::RESERVE),
                );
            }
        }

        return null;
    }

    private function names(): ?string
    {
        $many = \count($this->unnamed);

        return match (true) {
            0 === $many => null,
            1 === $many => \sprintf('Entry %d needs a name first.', $this->unnamed[0]),
            $many > self::EACH_IS_SAID => \sprintf(
                '%d entries need names first. Entry %d is the next.',
                $many,
                $this->unnamed[0],
            ),
            default => \sprintf(
                'Entries %s and %d need names first.',
                implode(', ', \array_slice($this->unnamed, 0, -1)),
                $this->unnamed[$many - 1],
            ),
        };
    }
}
