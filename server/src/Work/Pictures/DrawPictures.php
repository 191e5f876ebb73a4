<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/** Asks for the small pictures of some of a card's frames to be drawn ahead of anyone scrolling to them. */
final readonly class DrawPictures
{
    /**
     * @param int $after the last frame, by its number in the database, before those that are meant
     * @param int $upTo  the last of those that are meant
     */
    public function __construct(public int $cardId, public int $after, public int $upTo)
    {
    }
}
