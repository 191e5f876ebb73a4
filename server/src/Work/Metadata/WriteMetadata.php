<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Symfony\Component\Messenger\MessageBusInterface;

/** Asks a worker to write what frames say into those of their files that say something else. */
final readonly class WriteMetadata
{
    /** As many as copy. */
    private const WORKERS = 2;

    public static function byAll(MessageBusInterface $bus): void
    {
        for ($n = 0; $n < self::WORKERS; ++$n) {
            $bus->dispatch(new self());
        }
    }
}
