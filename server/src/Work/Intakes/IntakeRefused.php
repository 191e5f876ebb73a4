<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Velvet\Server\Refusal;
use Velvet\Server\Store\IntakeState;

final class IntakeRefused extends \RuntimeException implements Refusal
{
    public static function notNow(int $id, IntakeState $state): self
    {
        return new self(\sprintf('Intake %d cannot do that now: it is %s.', $id, match ($state) {
            IntakeState::Sheet => 'still a sheet that is being planned',
            IntakeState::Waiting => 'about to start',
            IntakeState::Running => 'being copied',
            IntakeState::Paused => 'paused',
            IntakeState::Stopped => 'stopped',
            IntakeState::Done => 'done',
        }));
    }

    public function status(): int
    {
        return 409;
    }
}
