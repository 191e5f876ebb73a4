<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A drive has no room left; until it has, no file will fit. */
final class DriveFull extends \RuntimeException implements TransferFailure
{
    public static function at(string $path): self
    {
        return new self(
            \sprintf(
                'The drive of “%s” is full. The unfinished copy of %s was removed and the card is untouched. Make '
                    .'room, then resume.',
                \dirname($path),
                basename($path),
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return false;
    }
}
