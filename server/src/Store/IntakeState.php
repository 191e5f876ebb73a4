<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

enum IntakeState: string
{
    case Sheet = 'sheet';
    case Waiting = 'waiting';
    case Running = 'running';
    case Paused = 'paused';
    case Stopped = 'stopped';
    case Done = 'done';

    /** Whether names can still be changed. */
    public function isPlanned(): bool
    {
        return self::Sheet === $this;
    }

    /** Whether files are still to be copied without anyone asking for it again. */
    public function isUnderWay(): bool
    {
        return self::Waiting === $this || self::Running === $this;
    }

    public function hasReceipt(): bool
    {
        return self::Done === $this || self::Stopped === $this;
    }
}
