<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** What was read back from a drive is not what was read from the card. */
final class VerifyMismatch extends \RuntimeException implements TransferFailure
{
    public static function at(string $path): self
    {
        return new self(
            \sprintf(
                'The copy of %s on “%s” did not read back as it was written. The bad copy was removed and the card '
                    .'is untouched. Do not trust this drive or its cable until it has been checked.',
                basename($path),
                \dirname($path),
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return true;
    }
}
