<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class KeepBackupHandler
{
    public function __construct(private Backups $backups)
    {
    }

    public function __invoke(KeepBackup $message): void
    {
        $this->backups->keep();
    }
}
