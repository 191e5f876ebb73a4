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
use Velvet\Server\Work\Backup\Backups;

#[AsCommand('velvet:backup', 'Keeps the ledger in one file, checked by restoring it.')]
final class BackupCommand extends Command
{
    public function __construct(private readonly Backups $backups, private readonly string $home)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument(
            'folder',
            InputArgument::OPTIONAL,
            'where to; without it, into the home and onto every place',
        )
            ->addOption('here', null, InputOption::VALUE_NONE, 'into the home only');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $folder = $input->getArgument('folder');
        try {
            if (true === $input->getOption('here')) {
                $say->line(\sprintf('The ledger is kept in %s.', $this->backups->make($this->home.'/backups')->path));
            } elseif (null !== $folder) {
                $say->line(\sprintf('The ledger is kept in %s.', $this->backups->make($say->absolute($folder))->path));
            } else {
                $report = $this->backups->keep();
                $say->line(\sprintf('The ledger is kept in %s.', $report->path));
                foreach ($report->places as $root) {
                    $say->line(\sprintf('Also in %s/%s.', $root, Backups::FOLDER));
                }
                foreach ($report->withoutIt as $root) {
                    $say->note(
                        \sprintf('%s is not connected, or cannot be written to: the backup is not there.', $root),
                    );
                }
            }
        } catch (BackupRefused $e) {
            return $say->refusal($e->getMessage());
        }

        return Command::SUCCESS;
    }
}
