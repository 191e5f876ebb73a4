<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What is locked by PostgreSQL's advisory locks: the first of their two numbers; the second is an id. */
enum Lock: int
{
    /** A card whose sheet is being settled. */
    case SettledCard = 8423;
    /** A sheet that is being edited or settled. */
    case Sheet = 8424;
    /** A shelf on which names are being given. */
    case ShelfNames = 8426;
    /** A card that is being read. */
    case CardReading = 8427;
    /** Sheets that are opened; the second number is 0. */
    case OpenedSheets = 8429;
    /** House styles that are added; the second number is 0. */
    case AddedStyles = 8430;
    /** Cards and shelves that are made known; the second number is 0. */
    case BecomingKnown = 8428;
    /** Backups that are made; the second number is 0. */
    case Backup = 8431;
}
