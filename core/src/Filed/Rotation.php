<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Capture\Orientation;

/** A quarter turn of what is shown; the stored picture stays as it is. */
enum Rotation: string
{
    case Right = 'right';
    case Left = 'left';

    public function of(Orientation $shown): Orientation
    {
        return $shown->then(match ($this) {
            self::Right => Orientation::Right,
            self::Left => Orientation::Left,
        });
    }
}
