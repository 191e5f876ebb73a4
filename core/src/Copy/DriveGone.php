<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** The drive that a file was to be written to is not where it was. */
final class DriveGone extends \RuntimeException implements TransferFailure
{
    public static function from(string $target): self
    {
        return new self(
            \sprintf(
                'The drive of “%s” was taken off. Nothing was left in the folder it had been mounted on, and the '
                    .'card is untouched. Connect it again, then resume.',
                $target,
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return true;
    }
}
