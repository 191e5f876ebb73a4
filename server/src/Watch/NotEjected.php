<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

use Velvet\Server\Refusal;

/** A card stays in. */
final class NotEjected extends \RuntimeException implements Refusal
{
    public function status(): int
    {
        return 409;
    }

    public static function underWay(string $label): self
    {
        return new self(
            \sprintf('The card %s is being copied. Wait for the receipt, or pause the intake; then eject it.', $label),
        );
    }

    public static function noWay(string $label): self
    {
        return new self(
            \sprintf(
                'The card %s cannot be ejected from here: it is no drive of its own, or this computer has no udisks. '
                    .'Eject it on the desktop.',
                $label,
            ),
        );
    }

    public static function refused(string $label, string $why): self
    {
        return new self(
            \sprintf(
                'The card %s was not ejected: %s. Nothing on it was changed; close what still has it open and try '
                    .'again.',
                $label,
                rtrim($why, '.'),
            ),
        );
    }
}
