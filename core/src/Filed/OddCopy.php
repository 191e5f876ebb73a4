<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Drive\Drive;

/** A copy that is not as it was set down, before it is known whether somebody of ours is at it. */
final readonly class OddCopy
{
    /** @param bool $isWithin as for {@see CopyInspection} */
    public function __construct(
        public KeptCopy $copy,
        public CopyStanding $standing,
        public Drive $drive,
        public bool $isWithin,
    ) {
    }
}
