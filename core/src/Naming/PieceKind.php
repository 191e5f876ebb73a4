<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** What a name can be built of. The values are those of the house style's schema. */
enum PieceKind: string
{
    case ShootDay = 'shoot_day';
    case ShotTime = 'shot_time';
    case FirstTime = 'first_time';
    case Trip = 'trip';
    case ShootName = 'shoot_name';
    case ShootKind = 'shoot_kind';
    case Client = 'client';
    case Initials = 'initials';
    case CardLabel = 'card_label';
    case Maker = 'maker';
    case Camera = 'camera';
    case BodySerial = 'body_serial';
    case OriginalName = 'original_name';
    case OriginalNumber = 'original_number';
    case FirstNumber = 'first_number';
    case LastNumber = 'last_number';
    case Sequence = 'sequence';
    case Counter = 'counter';
    case Text = 'text';

    /** Whether it can differ from frame to frame within one shoot. */
    public function isOfTheFrame(): bool
    {
        return match ($this) {
            self::ShotTime, self::CardLabel, self::Maker, self::Camera, self::BodySerial, self::OriginalName,
            self::OriginalNumber, self::Sequence, self::Counter => true,
            self::ShootDay, self::FirstTime, self::Trip, self::ShootName, self::ShootKind, self::Client,
            self::Initials, self::FirstNumber, self::LastNumber, self::Text => false,
        };
    }

    /** Whether it can name a folder. Maker and camera can: where all frames of the shoot have the same. */
    public function namesFolders(): bool
    {
        return !$this->isOfTheFrame() || self::Maker === $this || self::Camera === $this;
    }

    /** Whether it takes a date pattern. */
    public function isDate(): bool
    {
        return \in_array($this, [self::ShootDay, self::ShotTime, self::FirstTime], true);
    }

    /** Whether it is a number that a camera counted or that is counted here: it takes a width. */
    public function isNumber(): bool
    {
        return match ($this) {
            self::OriginalNumber, self::FirstNumber, self::LastNumber, self::Sequence, self::Counter => true,
            default => false,
        };
    }
}
