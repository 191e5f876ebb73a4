<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class LookAtShootHandler
{
    public function __construct(private OutsideChanges $outside)
    {
    }

    public function __invoke(LookAtShoot $message): void
    {
        $this->outside->look($message->shootId);
    }
}
