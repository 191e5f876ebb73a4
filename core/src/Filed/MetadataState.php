<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** What became of what a filed file's frame says. */
enum MetadataState: string
{
    /** Nothing is said of it. */
    case None = 'none';
    /** What is said is to be written, or written anew. */
    case Waiting = 'waiting';
    case Written = 'written';
    /** It could not be written; the reason is kept. */
    case Refused = 'refused';
}
