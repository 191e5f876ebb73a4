<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Refusal;

/** All frames of a shoot are others by now than those that were seen when they were chosen. */
final class ShootChanged extends \RuntimeException implements Refusal
{
    public static function since(int $shown, int $now): self
    {
        return new self(\sprintf(
            'The shoot had %s frames when they were selected and has %s now. Nothing was changed. Select them again.',
            number_format($shown),
            number_format($now),
        ));
    }

    public function status(): int
    {
        return 409;
    }
}
