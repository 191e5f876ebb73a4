<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Rows;
use Velvet\Server\Work\Dng\ConvertRaws;
use Velvet\Server\Work\Dng\ShootRaws;
use Velvet\Server\Work\Metadata\Following;
use Velvet\Server\Work\Metadata\WriteMetadata;

/**
 * Intakes that should be under way but that nobody is at work on: the program, the database or the computer went down,
 * or a drive was gone.
 */
final readonly class Interrupted
{
    public function __construct(
        private Rows $rows,
        private Locks $locks,
        private MessageBusInterface $bus,
        private Halts $halts,
        private Sweeping $sweeping,
        private Following $following,
        private ShootRaws $raws,
    ) {
    }

    public function takeUp(): void
    {
        $this->halts->over();
        $attended = $this->locks->held(Lock::Intake);
        foreach ($this->rows->all(<<<'SQL'
            SELECT i.id FROM intake i WHERE i.state IN ('waiting', 'running')
              AND NOT EXISTS (SELECT FROM messenger_messages m WHERE m.queue_name = 'copies' AND m.delivered_at IS NULL)
            SQL) as $row) {
            if (!\in_array($row->int('id'), $attended, true)) {
                RunIntake::byAll($this->bus, $row->int('id'));
            }
        }
        $this->sweeping->rest();
        $isQueued = $this->rows->one(
            "SELECT EXISTS (SELECT FROM messenger_messages WHERE queue_name = 'copies' AND delivered_at IS NULL) AS it",
        )->bool('it');
        if ($isQueued || [] !== $this->locks->held(Lock::FiledFile)) {
            return;
        }
        if ($this->raws->left() > 0) {
            $this->bus->dispatch(new ConvertRaws());
        }
        if ($this->following->left() > 0) {
            WriteMetadata::byAll($this->bus);
        }
    }
}
