<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Bytes\Size;

/** Whether the copy may begin. */
final class Readiness
{
    /**
     * @param bool         $isToBeEntered whether cards of filed frames are to be entered in the ledger
     * @param list<Room>   $rooms         of the shelf, and of its twin behind it; none where no shelf is chosen
     * @param list<string> $cardsOut      labels of cards that are not in
     *
     * @return string|null why it may not, in a sentence: the first thing that is to be seen to
     */
    public static function waitsFor(IntakePlan $plan, bool $isToBeEntered, array $rooms, array $cardsOut): ?string
    {
        return match (true) {
            [] === $plan->entries => 'There are no frames on this card.',
            !$plan->copiesAnything() && !$isToBeEntered => 'Every frame here is filed already.',
            [] === $rooms => 'There is no shelf to copy to yet.',
            [] !== $cardsOut => \sprintf('The card %s is out. Put it in again.', $cardsOut[0]),
            default => self::roomOf($rooms) ?? self::names($plan->unnamed()),
        };
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

    /** @param list<int> $unnamed numbers of entries */
    private static function names(array $unnamed): ?string
    {
        return [] === $unnamed ? null : \sprintf(
            1 === \count($unnamed) ? 'Entry %s needs a name first.' : 'Entries %s need names first.',
            implode(', ', $unnamed),
        );
    }
}
