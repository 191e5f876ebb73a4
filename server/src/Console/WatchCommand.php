<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\SignalableCommandInterface;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Work\Intakes\Interrupted;

/** Looks at the bays twice a second and takes up work that a crash left lying. */
#[AsCommand('velvet:watch', 'Watches the bays and takes up interrupted work. Runs until it is stopped.')]
final class WatchCommand extends Command implements SignalableCommandInterface
{
    private const EVERY = 500_000; // microseconds
    private const RESUME_EVERY = 6; // looks
    private const FORGET_EVERY = 600; // looks

    private bool $goOn = true;

    public function __construct(
        private readonly Bays $bays,
        private readonly Interrupted $interrupted,
        private readonly Happenings $happenings,
    ) {
        parent::__construct();
    }

    /** @return list<int> */
    public function getSubscribedSignals(): array
    {
        return [\SIGTERM, \SIGINT];
    }

    public function handleSignal(int $signal, int|false $previousExitCode = 0): int|false
    {
        $this->goOn = false;

        return false;
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $this->bays->resume();
        for ($look = 0; $this->goOn; ++$look) {
            $this->bays->look();
            if (0 === $look % self::RESUME_EVERY) {
                $this->interrupted->takeUp();
            }
            if (0 === $look % self::FORGET_EVERY) {
                $this->happenings->forgetOld();
            }
            usleep(self::EVERY);
        }

        return Command::SUCCESS;
    }
}
