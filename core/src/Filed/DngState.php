<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** Where a filed file stands on its way to DNG, or back. */
enum DngState: string
{
    case None = 'none';
    /** The raw file is to be converted. */
    case Waiting = 'waiting';
    /** The DNG is filed in every place; the raw file's copies are to go. */
    case Leaving = 'leaving';
    /** The raw file is to be taken out of its DNG. */
    case Returning = 'returning';
    case Made = 'made';
    /** It could not be done; the reason is kept. */
    case Refused = 'refused';

    public function isUnderWay(): bool
    {
        return \in_array($this, [self::Waiting, self::Leaving, self::Returning], true);
    }
}
