<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Store\BackupRefused;
use Velvet\Server\Work\Backup\BackupFile;
use Velvet\Server\Work\Backup\Restoring;

/** Called by `./velvet restore` while nothing but the database runs. */
#[AsCommand('velvet:restore', 'Brings a backup back.', hidden: true)]
final class RestoreCommand extends Command
{
    public function __construct(private readonly Restoring $restoring)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED)->addOption('set-aside', null, InputOption::VALUE_NONE);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        try {
            $backup = BackupFile::open($say->absolute($input->getArgument('file')));
            $aside = $this->restoring->from($backup, true === $input->getOption('set-aside'));
        } catch (BackupRefused $e) {
            return $say->refusal($e->getMessage());
        }
        $chain = $backup->sum->chain;
        $say->line(\sprintf(
            'The ledger of %s is back: %s files, %s lines, %s.',
            $backup->madeAt->setTimezone(new \DateTimeZone(date_default_timezone_get()))->format('j F Y, H:i'),
            number_format($backup->sum->rows['filed_file'] ?? 0),
            number_format($chain['lines']),
            $chain['whole']
                ? 'its chain of seals whole'
                : 'its chain of seals broken, as it was when the backup was made',
        ));
        if (null !== $aside) {
            $say->line(\sprintf('The ledger that was here is kept in the database as %s.', $aside));
        }

        return Command::SUCCESS;
    }
}
