<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Bytes\Size;
use Velvet\Core\Filed\Clearance;
use Velvet\Server\Http\IntakeProgress;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\IntakeSums;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Styles;
use Velvet\Server\Store\Transfers;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\KnownCards;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\SheetRefused;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

#[AsCommand(
    'velvet:intake',
    'Copies a card’s new frames to a shelf and its twin, verifies them and files them in the ledger.',
)]
final class IntakeCommand extends Command
{
    private const TOLD_TOGETHER = 500; // frames of the report
    private const POLL = 200_000; // microseconds between looks at an intake that another process copies

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly CardReading $reading,
        private readonly Sheets $sheets,
        private readonly Shelves $shelves,
        private readonly Intakes $intakes,
        private readonly IntakeRun $run,
        private readonly IntakeProgress $progress,
        private readonly IntakeSums $sums,
        private readonly Styles $styles,
        private readonly SheetEdits $edits,
        private readonly KnownCards $cards,
        private readonly CardClearance $clearance,
        private readonly Transfers $transfers,
        private readonly SecondHand $secondHand,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        PlanOptions::declare($this);
        $this->addOption(
            'keep-going',
            null,
            InputOption::VALUE_NONE,
            'go on with the other files after a drive refused one',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $options = PlanOptions::from($input, $this->styles, $say);
        if (null === $options->shelf) {
            throw new InvalidOptionException('Say where to: --shelf DIR.');
        }
        $keepGoing = true === $input->getOption('keep-going');
        try {
            $card = $this->card($options->path);
            foreach ($card->problems as $problem) {
                $say->note($problem['text']);
            }
            if (CardState::Read !== $card->state) {
                return $say->refusal($card->problem ?? 'The card could not be read.', $options->json);
            }
            if (Transfers::isForTwo($card->files, $card->bytes)) {
                $this->secondHand->makeReady($keepGoing);
            }
            $shelf = $this->shelves->at($options->shelf, $options->twin, [$card->root]);
            try {
                $intake = $this->unfinished($card) ?? $this->begin($card, $options, $shelf);
            } catch (SheetRefused $e) {
                $this->entities->clear();
                $intake = $this->unfinished(
                    $this->entities->find(Card::class, $card->id()) ?? $card,
                ) ?? throw $e; // somebody began it in this moment
            }
            $this->copy($intake, $keepGoing, $say);
        } catch (SheetRefused $e) {
            return $say->refusal($e->getMessage(), $options->json);
        } finally {
            $this->secondHand->end();
        }

        return $this->report($intake->id(), $options->json, $say);
    }

    private function card(string $root): Card
    {
        $card = $this->cards->orNew($root);
        $this->reading->read($card);

        return $card;
    }

    /** An intake of this card that was interrupted: it is finished before anything new begins. */
    private function unfinished(Card $card): ?Intake
    {
        $begun = [IntakeState::Waiting, IntakeState::Running, IntakeState::Paused];
        $intakes = $this->entities->getRepository(Intake::class)->findBy(['state' => $begun], ['id' => 'DESC']);
        foreach ($intakes as $intake) {
            if ($intake->cards->contains($card)) {
                if (IntakeState::Paused === $intake->state) {
                    $this->intakes->resume($intake);
                }

                return $intake;
            }
        }

        return null;
    }

    private function begin(Card $card, PlanOptions $options, Shelf $shelf): Intake
    {
        $intake = $this->sheets->open([$card], $options->style);
        $intake->follow($options->style);
        $intake->styleDocument = $options->style->toArray();
        $this->entities->flush();
        $this->sheets->divide($intake);
        $this->edits->shelve($intake, $shelf);
        foreach ($intake->entries as $entry) {
            $this->edits->name(
                $intake,
                $entry->number,
                ['name' => '' === $options->name ? $entry->name : $options->name],
            );
        }
        $this->intakes->settle($intake, false);

        return $intake;
    }

    /**
     * Copies here and now, with a second process where there is enough to do; where the running server's worker was
     * quicker, waits for it.
     */
    private function copy(Intake $intake, bool $keepGoing, Say $say): void
    {
        $id = $intake->id();
        do {
            if ($this->transfers->areForTwo($id)) {
                $this->secondHand->begin($id, $keepGoing);
            }
            try {
                $this->run->run(
                    $id,
                    $keepGoing ? OnFailure::KeepGoing : OnFailure::Pause,
                    static fn (string $source) => $say->note('copying '.$source),
                );
            } finally {
                $this->secondHand->end();
            }
            $this->entities->clear();
            $intake = $this->entities->find(Intake::class, $id) ?? throw new \LogicException('The intake is gone.');
            $state = $intake->state;
            if ($state->isUnderWay()) {
                usleep(self::POLL);
            }
        } while ($state->isUnderWay());
    }

    /** @return \Generator<array<string, mixed>> */
    private function entries(Intake $intake): \Generator
    {
        foreach ($this->progress->entries($intake) as $entry) {
            \assert(\is_int($entry['number']) && \is_int($entry['frames']));
            yield [
                'number' => $entry['number'],
                'name' => $entry['name'],
                'folder' => $entry['folder'],
                'first' => $entry['first'],
                'last' => $entry['last'],
                'frames' => $this->frames($intake, $entry['number'], $entry['frames']),
            ];
        }
    }

    /** @return \Generator<array<string, mixed>> */
    private function frames(Intake $intake, int $entry, int $many): \Generator
    {
        for ($from = 0; $from < $many; $from += self::TOLD_TOGETHER) {
            $destinations = $this->sums->destinations($intake, $entry, $from, self::TOLD_TOGETHER);
            foreach ($this->progress->frames($intake, $entry, $from, self::TOLD_TOGETHER) as $frame) {
                \assert(\is_array($frame['same_as']) && \is_int($frame['position']));
                yield [
                    'from' => $frame['from'], 'to' => $frame['to'], 'state' => $frame['state'],
                    'same_as' => $frame['same_as'][0] ?? null,
                    'problems' => $frame['problems'],
                    'destinations' => $destinations[$frame['position']] ?? [],
                ];
            }
        }
    }

    private function report(int $id, bool $json, Say $say): int
    {
        $intake = $this->entities->find(Intake::class, $id) ?? throw new \LogicException('The intake is gone.');
        $sum = $this->progress->sums($intake);
        \assert(\is_int($sum['already_filed']) && \is_int($sum['twice']));
        \assert(\is_int($sum['failed']) && \is_int($sum['unreadable']));
        $filedBefore = $sum['already_filed'] + $sum['twice'];
        $clearances = array_map(
            fn (Card $card): Clearance => $this->clearance->of($card, true),
            array_values($intake->cards->toArray()),
        );
        $missing = array_merge(
            ...array_map(static fn (Clearance $clearance): array => $clearance->missing, $clearances),
        );
        $cleared = [] === array_filter($clearances, static fn (Clearance $clearance): bool => !$clearance->cleared);
        $withoutMetadata = $this->sums->withoutMetadata($intake);
        $dng = $this->progress->dng($intake);
        if ($json) {
            $say->json([
                'intake' => $id, 'entries' => $this->entries($intake), 'copied' => $sum['frames_done'],
                'already_filed' => $filedBefore, 'failed' => $sum['failed'],
                'bytes' => $sum['bytes_filed'], 'seconds' => $sum['seconds'], 'cleared' => $cleared,
                'why_not_cleared' => $missing, 'without_metadata' => $withoutMetadata, 'dng' => $dng,
            ]);
        } else {
            \assert(\is_int($sum['frames_done']) && \is_int($sum['bytes_filed']));
            $say->line(
                \sprintf(
                    'Intake %d: %d frames copied (%s), %d already filed, %d files failed.',
                    $id,
                    $sum['frames_done'],
                    Size::inWords($sum['bytes_filed']),
                    $filedBefore,
                    $sum['failed'],
                ),
            );
            if (null !== $dng) {
                $say->line(
                    \sprintf(
                        '%d of %d raw files as DNG, every pixel value checked: %s → %s.',
                        $dng['made'],
                        $dng['wanted'],
                        Size::inWords($dng['bytes_before']),
                        Size::inWords($dng['bytes_after']),
                    ),
                );
            }
            $say->line(
                $cleared
                    ? 'The card is cleared: every file on it is verified in two places. It may be formatted in the '
                        .'camera.'
                    : 'The card is not cleared: '.implode(' ', $missing),
            );
        }
        $failures = $sum['failures'];
        foreach (\is_array($failures) ? $failures : [] as $failure) {
            \assert(\is_array($failure) && \is_string($failure['why']));
            $say->note($failure['why']);
        }
        foreach (\is_array($sum['remarks']) ? $sum['remarks'] : [] as $remark) {
            $say->note(\is_string($remark) ? $remark : '');
        }
        $behind = [];
        foreach ($intake->cards as $card) {
            $behind = [
                ...$behind,
                ...array_filter($card->problems, static fn (array $problem): bool => $problem['behind']),
            ];
        }

        $undone = $sum['failed'] + $sum['unreadable'] + $withoutMetadata + ($dng['refused'] ?? 0) + \count($behind);

        return IntakeState::Done === $intake->state && 0 === $undone ? Command::SUCCESS : Command::FAILURE;
    }
}
