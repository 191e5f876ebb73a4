<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Server\Refusal;

/** What another program changed cannot be settled now. */
final class OutsideRefused extends \RuntimeException implements Refusal
{
    public function status(): int
    {
        return 409;
    }

    public static function notChanged(): self
    {
        return new self('This file is as the ledger has it; there is nothing to settle any more.');
    }

    public static function failed(string $path, string $why): self
    {
        return new self(
            \sprintf(
                '%s could not be written: %s. Both versions stay as they are; try again when that is mended.',
                $path,
                rtrim($why, '.'),
            ),
        );
    }

    public static function noOtherCopy(string $path): self
    {
        return new self(
            \sprintf(
                'The picture in %s was changed, and there is no other copy with the picture as it was filed. Connect '
                    .'the twin, or use the other version.',
                $path,
            ),
        );
    }
}
