<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** Which frames of a shoot are meant. */
enum Lot: string
{
    case InShoot = 'in_shoot';
    /** Of those in the shoot. */
    case Struck = 'struck';
    case SetAside = 'set_aside';
    case InTrash = 'in_trash';

    /** Of `filed_frame f`; a condition, in parentheses where it needs them. */
    public function where(): string
    {
        return match ($this) {
            self::InShoot => "f.whereabouts = 'in_shoot'",
            self::Struck => "f.whereabouts = 'in_shoot' AND f.verdict = 'struck'",
            self::SetAside => "f.whereabouts = 'set_aside'",
            self::InTrash => "f.whereabouts = 'in_trash'",
        };
    }
}
