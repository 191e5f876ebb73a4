<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Filed\CardSeen;
use Velvet\Core\Filed\Clearance;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\CardNow;
use Velvet\Server\Work\Cards\KnownCards;
use Velvet\Server\Work\Cards\LettingGo;
use Velvet\Server\Work\Cards\WordRefused;
use Velvet\Server\Work\Reading\CardReading;

/** Looks at a card and its copies, now. A card that no intake ever took is not read: it was not copied. */
#[AsCommand('velvet:cleared', 'Looks at a card again and answers whether it may be formatted in the camera.')]
final class ClearedCommand extends Command
{
    public function __construct(
        private readonly KnownCards $cards,
        private readonly CardNow $now,
        private readonly CardReading $reading,
        private readonly CardClearance $clearance,
        private readonly LettingGo $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('path', InputArgument::REQUIRED, 'the folder at which the card is mounted')
            ->addOption(
                'one-drive-is-enough',
                null,
                InputOption::VALUE_NONE,
                'your word that two copies on one drive are enough for this card',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $clearance = $this->look(
            $say->absolute($input->getArgument('path')),
            true === $input->getOption('one-drive-is-enough'),
        );
        if (true === $input->getOption('json')) {
            $say->json([
                'cleared' => $clearance->cleared, 'why_not' => $clearance->missing, 'files' => $clearance->files,
                'in_two_places' => $clearance->inTwoPlaces,
                'housekeeping' => $clearance->housekeeping, 'unknown' => $clearance->unknown,
            ]);
        } elseif ($clearance->cleared) {
            $say->line(
                \sprintf(
                    'Cleared: all %s files on this card are accounted for, %s of them verified in two places. It may '
                        .'be formatted in the camera.',
                    number_format($clearance->files),
                    number_format($clearance->inTwoPlaces),
                ),
            );
        } else {
            $say->line(
                $clearance->copied
                    ? 'Copied, not cleared: do not format this card yet.'
                    : 'Not cleared: do not format this card.',
            );
            array_map($say->line(...), $clearance->missing);
        }

        return $clearance->cleared ? Command::SUCCESS : Command::FAILURE;
    }

    private function look(string $root, bool $oneDriveIsEnough): Clearance
    {
        $card = is_dir($root) ? $this->cards->at($root) : null;
        if (null === $card) {
            $why = is_dir($root)
                ? 'This card has not been taken in yet: no intake of it is in the ledger.'
                : \sprintf('There is no card at “%s”. Check that it is in its reader and mounted.', $root);

            return Clearance::of(new CardSeen([], false, [$why]));
        }
        $card->present = true;
        if (null !== $this->now->difference($card)) {
            $this->reading->read($card);
        }
        if ($oneDriveIsEnough) {
            try {
                $this->words->oneDriveIsEnough($card);
            } catch (WordRefused) {
                // the answer says why
            }
        }

        return $this->clearance->of($card, true);
    }
}
