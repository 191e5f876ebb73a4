<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** A drive did not take what it should keep. */
final class DestinationUnwritable extends \RuntimeException implements TransferFailure
{
    public static function folder(string $folder, string $reason): self
    {
        return new self(
            \sprintf(
                'The folder “%s” could not be made (%s). Nothing was filed there; the card is untouched. Check that '
                    .'the drive is connected and may be written to.',
                $folder,
                $reason,
            ),
        );
    }

    public static function file(string $path, string $reason): self
    {
        return new self(
            \sprintf(
                '%s could not be written to “%s” (%s). The unfinished copy was removed and the card is untouched. '
                    .'Check the drive, then try again.',
                basename($path),
                \dirname($path),
                $reason,
            ),
        );
    }

    public static function move(string $from, string $to, string $reason): self
    {
        return new self(
            \sprintf(
                '%s could not be moved to “%s” (%s). It lies in “%s” as before. Check the drive, then try again.',
                basename($from),
                \dirname($to),
                $reason,
                \dirname($from),
            ),
        );
    }

    public function isWorthAnotherTry(): bool
    {
        return true;
    }
}
