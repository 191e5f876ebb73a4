<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Velvet\Server\Refusal;

/** There is nothing in the ledger by that name. */
final class NothingFiled extends \RuntimeException implements Refusal
{
    public function status(): int
    {
        return 404;
    }

    public static function under(string $what): self
    {
        return new self(
            '' === $what
                ? 'Nothing is filed yet.'
                : \sprintf('Nothing is filed under “%s”. Name a shoot or its folder, or a shelf.', $what),
        );
    }
}
