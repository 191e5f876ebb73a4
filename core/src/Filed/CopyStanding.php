<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** What is found of a verified copy when it is looked at again. Only {@see self::Whole} counts as a place. */
enum CopyStanding: string
{
    /** It lies on the drive on which it was verified, and nobody wrote to it since. */
    case Whole = 'whole';
    /** Somebody wrote to it, or may have, since it was verified: it must be read again before it counts. */
    case Touched = 'touched';
    /** It was read again and has another content. */
    case Changed = 'changed';
    /** Its metadata is being written: it has the content that was made for it already, and that is not set down yet. */
    case BeingWritten = 'being_written';
    /** Its drive is there and it is not. */
    case Missing = 'missing';
    /** Its drive is not connected, or another one is in its place. */
    case Away = 'away';
    /** Its folder is no place of its shelf any more, or leads out of it. */
    case Elsewhere = 'elsewhere';
}
