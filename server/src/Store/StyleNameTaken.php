<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Server\Refusal;

final class StyleNameTaken extends \RuntimeException implements Refusal
{
    public static function by(string $name): self
    {
        return new self(
            \sprintf('There is a style called “%s” already. Both stay as they are; choose another name.', $name),
        );
    }

    public function status(): int
    {
        return 409;
    }
}
