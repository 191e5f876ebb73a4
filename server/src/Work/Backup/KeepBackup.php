<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

/** The ledger is to be kept in a backup. */
final readonly class KeepBackup
{
}
