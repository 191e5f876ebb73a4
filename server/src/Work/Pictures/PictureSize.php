<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/** The long edge, in pixels, of the pictures shown in the browser. */
enum PictureSize: int
{
    case Strip = 320;
    case Near = 1024;
    case Look = 2560;

    public function quality(): int
    {
        return match ($this) {
            self::Strip => 78,
            self::Near => 82,
            self::Look => 88,
        };
    }
}
