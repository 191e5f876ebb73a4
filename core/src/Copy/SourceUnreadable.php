<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A file on the card cannot be read to its end. */
final class SourceUnreadable extends \RuntimeException implements TransferFailure
{
    public static function at(string $path, string $reason): self
    {
        return new self(
            \sprintf(
                '%s could not be read from the card (%s). Nothing of it was filed and the card is untouched. Clean '
                    .'the contacts or try another reader, then try again.',
                basename($path),
                $reason,
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return true;
    }
}
