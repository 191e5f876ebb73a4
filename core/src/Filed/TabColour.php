<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** The colours that a tab can have. */
enum TabColour: string
{
    case Mulberry = 'mulberry';
    case Slate = 'slate';
    case Ochre = 'ochre';
    case Moss = 'moss';
    case Plum = 'plum';
    case Clay = 'clay';
}
