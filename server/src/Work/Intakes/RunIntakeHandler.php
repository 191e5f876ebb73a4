<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class RunIntakeHandler
{
    public function __construct(private IntakeRun $run)
    {
    }

    public function __invoke(RunIntake $message): void
    {
        $this->run->run($message->intakeId, OnFailure::PauseForDrives);
    }
}
