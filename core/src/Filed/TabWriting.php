<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** As what a tab's name is written into the files of the frames that have it. */
enum TabWriting: string
{
    case Nothing = 'nothing';
    case Keyword = 'keyword';
    /** `xmp:Label`; of several such tabs on a frame the first one's. */
    case Label = 'label';
}
