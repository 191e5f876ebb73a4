<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/**
 * What is locked by PostgreSQL's advisory locks: the first of their two numbers; the second is an id, 0 where there is
 * but one.
 */
enum Lock: int
{
    /** The feed: happenings become visible in the order of their numbers. */
    case Feed = 8417;
    /** The end of the ledger, to which lines are added. */
    case LedgerEnd = 8418;
    /** An intake that somebody is at work on; shared by its workers. */
    case Intake = 8419;
    /** A card that is being copied from: one file at a time. */
    case CardCopying = 8420;
    /** A filed file whose copies are being written. */
    case FiledFile = 8421;
    /** Keywords that are added to the catalogue. */
    case AddedKeywords = 8422;
    /** A card that is being read, or whose sheet is being settled: one waits for the other. */
    case Card = 8423;
    /** A sheet that is being edited or settled. */
    case Sheet = 8424;
    /**
     * A core of this machine on which a raw file is being converted, by its own number ({@see \crc32()} of host and
     * core).
     */
    case Core = 8425;
    /** A shelf on which names are being given. */
    case ShelfNames = 8426;
    /** Cards and shelves that are made known. */
    case BecomingKnown = 8428;
    /** Sheets that are opened. */
    case OpenedSheets = 8429;
    /** House styles that are added. */
    case AddedStyles = 8430;
    /** Backups that are made. */
    case Backup = 8431;
    /** A shoot's folder that is being made, by a hash of shelf and name. */
    case ShootFolder = 8432;
    /** A frame on a card of which files are being filed: those of one frame come one after another. */
    case FrameFiled = 8433;
    /** Tabs that are made, changed or deleted. */
    case Tabs = 8434;
}
