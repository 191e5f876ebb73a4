<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

use Velvet\Server\Refusal;

/** Frames could not be set aside, brought back, thrown away or deleted; none of them was touched then. */
final class AsideRefused extends \RuntimeException implements Refusal
{
    public function status(): int
    {
        return 409;
    }

    public static function notConnected(string $root): self
    {
        return new self(\sprintf(
            '“%s” is not connected. Every place must have its frames in the same folders, so nothing was moved or '
                .'deleted. Connect it, then try again.',
            $root,
        ));
    }

    public static function nothing(string $why): self
    {
        return new self($why);
    }

    public static function othersNow(int $frames, int $files): self
    {
        return new self(\sprintf(
            'There are %s frames with %s files now, others than you were asked about. Nothing was touched; look '
                .'again and say so once more.',
            number_format($frames),
            number_format($files),
        ));
    }
}
