<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/** The card as a whole cannot be read. */
final class CardUnreadable extends \RuntimeException
{
    public static function missing(string $root): self
    {
        return new self(\sprintf('There is no card at “%s”. Check that it is in its reader and mounted.', $root));
    }

    public static function notAFolder(string $root): self
    {
        return new self(\sprintf('“%s” is a file, not a card. Name the folder at which the card is mounted.', $root));
    }

    public static function at(string $root, string $reason): self
    {
        return new self(
            \sprintf(
                'The card at “%s” could not be opened (%s). Nothing was read and nothing was changed.',
                $root,
                $reason,
            ),
        );
    }

    public static function pulled(string $root): self
    {
        return new self(
            \sprintf(
                'The card at “%s” went away while it was being read. Put it in again and the reading starts where it '
                    .'was.',
                $root,
            ),
        );
    }
}
