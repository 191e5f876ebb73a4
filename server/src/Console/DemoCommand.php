<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Work\Cards\CardIdentity;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/**
 * Puts the demo's past in place: a shelf with its twin, and the first day of the kiln opening, filed for real as it
 * would have been two days earlier, from the card as it was then.
 */
#[AsCommand('velvet:demo', 'Prepares the demo’s shelf and its earlier intake.', hidden: true)]
final class DemoCommand extends Command
{
    public function __construct(
        private readonly string $home,
        private readonly EntityManagerInterface $entities,
        private readonly CardReading $reading,
        private readonly Sheets $sheets,
        private readonly Shelves $shelves,
        private readonly Intakes $intakes,
        private readonly IntakeRun $run,
        private readonly SheetEdits $edits,
        private readonly ClockInterface $clock,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $demo = $this->home.'/demo';
        if (
            null !== $this->entities->getRepository(Shelf::class)->findOneBy(['root' => $demo.'/drives/Studio'])
            || !is_dir($demo.'/earlier/KILN')
        ) {
            return Command::SUCCESS;
        }
        $shelf = $this->shelves->at($demo.'/drives/Studio', $demo.'/drives/Twin', [], 'Studio');
        $root = $demo.'/earlier/KILN';
        $card = new Card(CardIdentity::of($root)->id, 'KILN', $root, $this->clock->now());
        $this->entities->persist($card);
        $this->reading->read($card);
        $intake = $this->sheets->open([$card]);
        $this->edits->shelve($intake, $shelf);
        foreach ($intake->entries as $entry) {
            $this->edits->name($intake, $entry->number, ['name' => 'Kiln opening, Saltmarsh Pottery']);
        }
        $this->intakes->settle($intake, true);
        $this->run->run($intake->id(), OnFailure::KeepGoing);
        $card = $this->entities->find(Card::class, $card->id()) ?? throw new \LogicException('The demo card is gone.');
        $card->present = false;
        $this->entities->flush();

        return Command::SUCCESS;
    }
}
