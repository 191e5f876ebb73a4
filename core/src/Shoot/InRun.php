<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** A frame's place in a run. */
final readonly class InRun
{
    /**
     * @param int $run    which of its entry's runs of this kind, from 1
     * @param int $number of the frame within the run, from 1
     */
    public function __construct(public SequenceKind $kind, public int $run, public int $number)
    {
    }
}
