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
use Velvet\Server\Watch\KernelWord;
use Velvet\Server\Work\Intakes\Interrupted;

/**
 * Looks at the bays when the kernel says that something came or went, and now and then all the same; takes up work that
 * a crash left lying.
 */
#[AsCommand('velvet:watch', 'Watches the bays and takes up interrupted work. Runs until it is stopped.')]
final class WatchCommand extends Command implements SignalableCommandInterface
{
    /** Seconds; what the kernel says nothing of is a file that changes on a card, or a folder of another computer. */
    private const EVERY = 3.0;
    /** Seconds in which the happenings on record are gone through once. */
    private const FORGET_EVERY = 300;

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
        $kernel = new KernelWord($this->bays->roots());
        $forgotten = -self::FORGET_EVERY;
        while ($this->goOn) {
            $this->bays->look();
            $this->interrupted->takeUp();
            if (hrtime(true) / 1e9 - $forgotten > self::FORGET_EVERY) {
                $this->happenings->forgetOld();
                $forgotten = hrtime(true) / 1e9;
            }
            $kernel->wait(self::EVERY);
        }

        return Command::SUCCESS;
    }
}
