<?php

declare(strict_types=1);

namespace Velvet\Server\Pictures;

/** Asks for the small pictures of a card's frames to be drawn ahead of anyone scrolling to them. */
final readonly class DrawPictures
{
    public function __construct(public int $cardId)
    {
    }
}
