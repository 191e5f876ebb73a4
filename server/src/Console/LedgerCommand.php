<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Psr\Clock\ClockInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Receipts\ReceiptFormat;

#[AsCommand('velvet:ledger', 'Exports what is filed, in open formats.')]
final class LedgerCommand extends Command
{
    public function __construct(
        private readonly Receipts $receipts,
        private readonly Shoots $all,
        private readonly ClockInterface $clock,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('what', InputArgument::REQUIRED, 'export')
            ->addOption('format', null, InputOption::VALUE_REQUIRED, 'csv, json, mhl, xxh128, sha256 or b2')
            ->addOption('shoot', null, InputOption::VALUE_REQUIRED, 'only this shoot, by its name or folder');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ('export' !== $input->getArgument('what')) {
            throw new InvalidArgumentException('There is: export.');
        }
        $format = $input->getOption('format');
        $format = ReceiptFormat::tryFrom(\is_string($format) ? $format : '') ?? throw new InvalidOptionException(
            'Say in which format: --format=csv, json, mhl, xxh128, sha256 or b2.',
        );
        $shoot = $input->getOption('shoot');
        $shoots = null;
        if (\is_string($shoot)) {
            $shoots = $this->all->called($shoot);
            if ([] === $shoots) {
                return (new Say($output))->refusal(\sprintf('There is no shoot called “%s”.', $shoot));
            }
        }
        $output->write(
            $format->of($this->receipts->filed($shoots), $this->clock->now()),
            false,
            OutputInterface::OUTPUT_RAW,
        );

        return Command::SUCCESS;
    }
}
