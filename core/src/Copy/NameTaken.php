<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Another file came to bear the planned name in the meantime. Nothing is ever overwritten. */
final class NameTaken extends \RuntimeException implements TransferFailure
{
    public static function by(string $path): self
    {
        return new self(
            \sprintf(
                '“%s” already holds another file called %s, which was left as it is. The frame was not filed and '
                    .'stays on the card; open its sheet again to give it another name.',
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
