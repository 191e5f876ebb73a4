<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** The file on the card is not the one that was planned. */
final class SourceChanged extends \RuntimeException implements TransferFailure
{
    public static function size(string $path, int $planned, int $found): self
    {
        return new self(
            \sprintf(
                '%s has %d bytes, but had %d when the card was read. Nothing of it was filed. Read the card again '
                    .'and look at this frame.',
                basename($path),
                $found,
                $planned,
            ),
        );
    }

    public static function since(string $path): self
    {
        return new self(
            \sprintf(
                '%s is not the file that was planned: it was changed since the card was read, or another card is in '
                    .'its place. Nothing of it was filed. Read the card again and look at this frame.',
                basename($path),
            ),
        );
    }

    public static function meanwhile(string $path): self
    {
        return new self(
            \sprintf(
                '%s was written to while it was read. Nothing of it was filed. Let nothing write to the card, then '
                    .'read it again.',
                basename($path),
            ),
        );
    }

    public static function content(string $path): self
    {
        return new self(
            \sprintf('%s does not contain what it should any more. Nothing of it was filed.', basename($path)),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return false;
    }
}
