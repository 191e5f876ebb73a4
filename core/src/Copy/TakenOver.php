<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Somebody else copies the file now: this copy is thrown away before it has a name. */
final class TakenOver extends \RuntimeException implements TransferFailure
{
    public static function file(string $path): self
    {
        return new self(\sprintf(
            '%s is being copied by another worker, which took it over. Nothing was placed by this one.',
            basename($path),
        ));
    }

    public function isWorthAnotherTry(): bool
    {
        return true;
    }
}
