<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Work\Aside\MoveFiles;
use Velvet\Server\Work\Dng\ConvertRaws;
use Velvet\Server\Work\Dng\ShootRaws;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Halts\Sweeping;
use Velvet\Server\Work\Metadata\MetadataQueue;
use Velvet\Server\Work\Metadata\WriteMetadata;

/**
 * Intakes that should be under way but that nobody is at work on: the program, the database or the computer went down,
 * or a drive was gone.
 */
final readonly class Interrupted
{
    public function __construct(
        private IntakeWork $work,
        private Locks $locks,
        private MessageBusInterface $bus,
        private Halts $halts,
        private Sweeping $sweeping,
        private MetadataQueue $queue,
        private ShootRaws $raws,
        private AsideFrames $aside,
    ) {
    }

    public function takeUp(): void
    {
        $this->halts->over();
        $attended = $this->locks->held(Lock::Intake);
        foreach (array_diff($this->work->unattended(), $attended) as $intake) {
            RunIntake::byAll($this->bus, $intake);
        }
        $this->sweeping->rest();
        if ($this->work->isAnyQueued() || [] !== $this->locks->held(Lock::FiledFile)) {
            return;
        }
        if ($this->raws->left() > 0) {
            $this->bus->dispatch(new ConvertRaws());
        }
        if ($this->aside->left() > 0) {
            $this->bus->dispatch(new MoveFiles());
        }
        if ($this->queue->left() > 0) {
            WriteMetadata::byAll($this->bus);
        }
    }
}
