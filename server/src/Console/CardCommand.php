<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Bytes\Size;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureProblem;
use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\CardProblem;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\FrameListing;
use Velvet\Core\Card\Housekeeping;
use Velvet\Server\Work\Cards\CardIdentity;

#[AsCommand('velvet:card', 'Reads a card and tells what lies on it. Writes nothing.')]
final class CardCommand extends Command
{
    public function __construct(private readonly Capture $capture)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('path', InputArgument::REQUIRED, 'the folder at which the card is mounted')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $root = $say->absolute($input->getArgument('path'));
        try {
            $listing = CardWalk::of($root);
        } catch (CardUnreadable $e) {
            return $say->refusal($e->getMessage(), true === $input->getOption('json'));
        }
        $frames = $listing->frames($root);
        foreach ($listing->problems as $problem) {
            $say->note($problem->text);
        }
        $card = [
            'label' => CardIdentity::of($root)->label,
            'files' => \count($listing->files),
            'frames' => \count($frames->frames),
            'bytes' => $listing->bytes(),
        ];
        if (true === $input->getOption('json')) {
            $say->json([
                'card' => $card,
                'frames' => $this->frames($frames, $root),
                'others' => array_map(
                    static fn (CardFile $file): array => self::file($file) + self::fate(
                        Housekeeping::rule($file, $root),
                        [] !== $frames->frames,
                    ),
                    $frames->others,
                ),
                'problems' => array_map(
                    static fn (CardProblem $problem): array => [
                        'code' => $problem->code,
                        'text' => $problem->text,
                        'path' => $problem->path,
                    ],
                    $listing->problems,
                ),
            ]);
        } else {
            $say->line(
                \sprintf(
                    '%s: %d frames in %d files, %s',
                    $card['label'],
                    $card['frames'],
                    $card['files'],
                    Size::inWords($card['bytes']),
                ),
            );
            $reader = new CardReader($this->capture, $root);
            foreach ($frames->frames as $frame) {
                $reading = $reader->read($frame);
                $say->line(
                    \sprintf(
                        '  %-23s  %s',
                        $reading->facts->time?->at->text() ?? 'no date',
                        implode(', ', array_map(static fn (CardFile $file): string => $file->path, $frame->files)),
                    ),
                );
                foreach ($reading->problems as $problem) {
                    $say->line('    '.$problem->text);
                }
            }
            foreach ($frames->others as $other) {
                $say->line(
                    '  no frame                 '.$other->path
                        .(null === ($rule = Housekeeping::rule($other, $root)) ? '' : ' (housekeeping: '.$rule.')'),
                );
            }
        }

        return [] === array_filter(
            $listing->problems,
            static fn (CardProblem $problem): bool => $problem->leavesFramesBehind,
        )
            ? Command::SUCCESS
            : Command::FAILURE;
    }

    /**
     * @return iterable<array<string, mixed>> read one by one, so that a large card needs no more memory than a small
     *     one
     */
    private function frames(FrameListing $frames, string $root): iterable
    {
        $reader = new CardReader($this->capture, $root);
        foreach ($frames->frames as $frame) {
            yield self::frame($reader->read($frame));
        }
    }

    /** @return array<string, mixed> */
    private static function frame(FrameReading $reading): array
    {
        return ['files' => array_map(self::file(...), $reading->frame->files)] + $reading->facts->toArray()
            + [
                'problems' => array_map(
                    static fn (CaptureProblem $problem): string => $problem->text,
                    $reading->problems,
                ),
            ];
    }

    /** @return array<string, string> what becomes of a file of no frame */
    private static function fate(?string $rule, bool $hasFrames): array
    {
        return null === $rule
            ? ['fate' => $hasFrames ? 'copied' : 'unknown'] // of no shoot, it is left where it is
            : ['fate' => 'housekeeping', 'rule' => $rule];
    }

    /** @return array<string, mixed> */
    private static function file(CardFile $file): array
    {
        return ['path' => $file->path, 'kind' => $file->kind->value, 'bytes' => $file->bytes];
    }
}
