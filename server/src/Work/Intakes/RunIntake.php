<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Symfony\Component\Messenger\MessageBusInterface;

/** Asks a worker to copy an intake's files in the background. */
final readonly class RunIntake
{
    /** While one file is synced and read back, the next can be read from the card. More would only crowd the drives. */
    private const WORKERS = 2;

    public function __construct(public int $intakeId)
    {
    }

    public static function byAll(MessageBusInterface $bus, int $intakeId): void
    {
        for ($n = 0; $n < self::WORKERS; ++$n) {
            $bus->dispatch(new self($intakeId));
        }
    }
}
