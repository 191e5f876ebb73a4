<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Ledger\Seal;
use Velvet\Server\Store\LedgerChain;
use Velvet\Server\Store\LedgerChecks;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Ledger\NothingFiled;

#[AsCommand('velvet:verify', 'Reads filed files again and compares them with the ledger.')]
final class VerifyCommand extends Command
{
    public function __construct(
        private readonly LedgerCheck $check,
        private readonly LedgerChain $chain,
        private readonly LedgerChecks $checks,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('what', InputArgument::OPTIONAL, 'a shoot or a shelf; all without it')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $what = $input->getArgument('what');
        try {
            $check = $this->check->of(
                \is_string($what) ? rtrim($what, '/') : null,
                static fn (string $path) => $say->note('checking '.$path),
            );
        } catch (NothingFiled $e) {
            return $say->refusal($e->getMessage(), true === $input->getOption('json'));
        }
        $lost = array_values(
            array_unique(
                array_map(
                    static fn (Seal $seal): int => $seal->intake,
                    array_filter($check->seals, fn (Seal $seal): bool => !$this->chain->has($seal)),
                ),
            ),
        );
        if ([] !== $lost) {
            $say->note(
                \sprintf(
                    'The ledger lacks lines: the seal that lies beside the pictures of intake %s is that of no line. '
                        .'Compare with a backup of the database; the pictures were not touched.',
                    implode(', ', $lost),
                ),
            );
        }
        $chain = $this->chain->check();
        if ($chain['whole']) {
            $this->checks->passed($chain['lines'], $this->chain->end());
        } elseif (null !== $chain['broken_at']) {
            $say->note(
                \sprintf(
                    'Line %d of the ledger does not fit the line before it: it was changed from outside. The %d lines '
                        .'before it are sound; compare with a backup. The pictures were not touched.',
                    $chain['broken_at'],
                    $chain['lines'],
                ),
            );
        }
        foreach ($check->away as $root) {
            $say->note(\sprintf('“%s” is not connected; nothing there was checked.', $root));
        }
        if (true === $input->getOption('json')) {
            $say->json($check->toArray());
        } else {
            $say->line(\sprintf('%d of %d files are as they were filed.', $check->good, $check->checked));
            $found = [
                'changed' => $check->changed,
                'missing' => $check->missing,
                'not in the ledger' => $check->unknown,
            ];
            foreach ($found as $word => $paths) {
                foreach ($paths as $path) {
                    $say->line($word.': '.$path);
                }
            }
            if ([] !== $check->changed || [] !== $check->missing) {
                $say->line('If their card is not formatted yet, put it in: its sheet offers to repair them.');
            }
        }

        return [] === [...$check->changed, ...$check->missing, ...$check->away, ...$lost] && $chain['whole']
            ? Command::SUCCESS
            : Command::FAILURE;
    }
}
