<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\OnFailure;

/** Started by {@see SecondHand}, which says on its input for which intake; ends with the process that it helps. */
#[AsCommand('velvet:second-hand', 'Copies an intake’s files beside the process that began it.', hidden: true)]
final class SecondHandCommand extends Command
{
    public function __construct(private readonly IntakeRun $run)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('helped', InputArgument::REQUIRED, 'number of the process');
        $this->addOption('keep-going', null, InputOption::VALUE_NONE);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $helped = $input->getArgument('helped');
        $intake = fgets(\STDIN);
        if (false === $intake) {
            return Command::SUCCESS; // there was nothing to do for two
        }
        $this->run->run(
            (int) $intake,
            true === $input->getOption('keep-going') ? OnFailure::KeepGoing : OnFailure::Pause,
            static function (string $source) use ($say, $helped): void {
                if ((string) posix_getppid() !== $helped) {
                    exit(Command::FAILURE); // the other one was killed; what is claimed is free again
                }
                $say->note('copying '.$source);
            },
        );

        return Command::SUCCESS;
    }
}
