<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Halts;

use Velvet\Core\Copy\PartFile;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Work\Intakes\Intakes;

/** When an intake is over and nobody is at work on it, temporary files of workers that died are removed. */
final readonly class Sweeping
{
    private const LOOKS = 8;
    private const BETWEEN = 50_000; // microseconds

    public function __construct(private IntakeWork $work, private Locks $locks)
    {
    }

    /** What the names of an intake's temporary files begin with. */
    public static function token(int $intakeId): string
    {
        return "intake-$intakeId-";
    }

    public function ifOver(int $intakeId): void
    {
        if (!$this->work->isToBeSwept($intakeId) || !$this->isLast($intakeId)) {
            return; // the last one to leave does it
        }
        try {
            foreach ($this->work->folders($intakeId) as $folder) {
                PartFile::sweep($folder, self::token($intakeId));
            }
            $this->work->swept($intakeId);
        } finally {
            $this->locks->release(Lock::Intake, $intakeId);
        }
    }

    /**
     * Whether nobody else is at work on it. One that was killed a moment ago seems to be, until the database notices.
     */
    private function isLast(int $intakeId): bool
    {
        for ($n = 0; $n < self::LOOKS; ++$n) {
            if ($this->locks->isTaken(Lock::Intake, $intakeId)) {
                return true;
            }
            usleep(self::BETWEEN);
            if (!$this->work->isToBeSwept($intakeId)) {
                break; // the other one did it
            }
        }

        return false;
    }

    /** Intakes that were stopped while nobody was at work on them. */
    public function rest(): void
    {
        array_map($this->ifOver(...), $this->work->toBeSwept());
    }
}
