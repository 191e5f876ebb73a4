<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Core\Filed\Whereabouts;

/** What can be done with frames that are struck, or set aside. */
enum AsideAct: string
{
    case SetAside = 'set_aside';
    case BringBack = 'bring_back';
    case ThrowAway = 'throw_away';
    case Delete = 'delete';
    case Forget = 'forget';

    public function leadsTo(): Whereabouts
    {
        return match ($this) {
            self::SetAside => Whereabouts::SetAside,
            self::BringBack => Whereabouts::InShoot,
            self::ThrowAway => Whereabouts::InTrash,
            self::Delete => Whereabouts::Deleted,
            self::Forget => Whereabouts::Forgotten,
        };
    }

    /** Whether it cannot be undone: then it must be said of how many files it is meant. */
    public function isForGood(): bool
    {
        return self::Delete === $this || self::Forget === $this;
    }
}
