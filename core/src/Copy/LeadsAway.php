<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A folder of a shelf is a link to another place: what is filed through it would not lie where the ledger says. */
final class LeadsAway extends \RuntimeException implements TransferFailure
{
    public static function through(string $folder): self
    {
        return new self(
            \sprintf(
                'The folder “%s” is a link that leads out of its shelf. Nothing was written through it and the card '
                    .'is untouched. Put a real folder there, or make the folder behind the link a shelf of its own.',
                $folder,
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return false;
    }
}
