<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Shelves;

#[AsCommand('velvet:shelf', 'Makes a shelf known: its name, its folder, and the folder of its twin.')]
final class ShelfCommand extends Command
{
    public function __construct(private readonly Shelves $shelves, private readonly Happenings $happenings)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED)
            ->addArgument('folder', InputArgument::REQUIRED)
            ->addArgument('twin', InputArgument::OPTIONAL);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $name = $input->getArgument('name');
        $twin = $input->getArgument('twin');
        try {
            $shelf = $this->shelves->at(
                $say->absolute($input->getArgument('folder')),
                null === $twin ? null : $say->absolute($twin),
                [],
                \is_string($name) ? $name : null,
            );
        } catch (SheetRefused $e) {
            return $say->refusal($e->getMessage());
        }
        $this->happenings->tell('bays', []);
        $say->line(
            \sprintf(
                'Shelf “%s” is at %s%s.',
                $shelf->name,
                $shelf->root,
                null === $shelf->twinRoot ? ', without a twin' : ' and '.$shelf->twinRoot,
            ),
        );

        return Command::SUCCESS;
    }
}
