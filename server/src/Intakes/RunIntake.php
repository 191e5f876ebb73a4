<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

/** Asks for an intake's files to be copied in the background. */
final readonly class RunIntake
{
    public function __construct(public int $intakeId)
    {
    }
}
