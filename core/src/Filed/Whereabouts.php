<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** Where a filed frame and its files are kept. */
enum Whereabouts: string
{
    case InShoot = 'in_shoot';
    /** In the folder beside the shoot. */
    case SetAside = 'set_aside';
    /** In the dated trash of each drive. */
    case InTrash = 'in_trash';
    /** No copy is left. */
    case Deleted = 'deleted';
    /** Its copies lie where they lay beside the shoot, and are not looked after any more. */
    case Forgotten = 'forgotten';

    public function mayBecome(self $next): bool
    {
        return \in_array($next, match ($this) {
            self::InShoot => [self::SetAside],
            self::SetAside => [self::InShoot, self::InTrash, self::Forgotten],
            self::InTrash => [self::InShoot, self::Deleted],
            self::Deleted, self::Forgotten => [],
        }, true);
    }

    /** What is done to a frame that goes there, as the ledger calls it. */
    public function act(): string
    {
        return match ($this) {
            self::InShoot => 'brought_back',
            self::InTrash => 'thrown_away',
            self::SetAside, self::Deleted, self::Forgotten => $this->value,
        };
    }

    /** Whether copies are there that we look after. */
    public function isKept(): bool
    {
        return self::Deleted !== $this && self::Forgotten !== $this;
    }
}
