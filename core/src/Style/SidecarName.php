<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

/** How the sidecar beside a file is called; editors look for the one or the other. */
enum SidecarName: string
{
    /** `name.xmp` */
    case Stem = 'stem';
    /** `name.ext.xmp` */
    case Whole = 'whole';

    /** @param string $path of the file */
    public function of(string $path): string
    {
        return match ($this) {
            self::Stem => preg_replace('/\.[^.\/]*$/', '', $path).'.xmp',
            self::Whole => $path.'.xmp',
        };
    }
}
