<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** What a name can be built of. The values are those of the house style's schema. */
enum PieceKind: string
{
    case ShootDay = 'shoot_day';
    case ShotTime = 'shot_time';
    case ShootName = 'shoot_name';
    case ShootKind = 'shoot_kind';
    case Client = 'client';
    case Initials = 'initials';
    case CardLabel = 'card_label';
    case Camera = 'camera';
    case BodySerial = 'body_serial';
    case OriginalName = 'original_name';
    case OriginalNumber = 'original_number';
    case Sequence = 'sequence';
    case Counter = 'counter';
    case Text = 'text';

    /** Whether it can differ from frame to frame within one shoot; such pieces name files, not folders. */
    public function isOfTheFrame(): bool
    {
        return match ($this) {
            self::ShotTime, self::CardLabel, self::Camera, self::BodySerial, self::OriginalName, self::OriginalNumber,
            self::Sequence, self::Counter => true,
            self::ShootDay, self::ShootName, self::ShootKind, self::Client, self::Initials, self::Text => false,
        };
    }

    /** Whether it takes a date pattern. */
    public function isDate(): bool
    {
        return self::ShootDay === $this || self::ShotTime === $this;
    }
}
