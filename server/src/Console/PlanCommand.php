<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Bytes\Size;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardProblem;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Filed\FiledBefore;
use Velvet\Core\Filed\FiledCopy;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\PlannedEntry;
use Velvet\Core\Plan\PlannedFrame;
use Velvet\Core\Shoot\TimedFrame;
use Velvet\Server\Store\CameraNames;
use Velvet\Server\Store\FiledCounters;
use Velvet\Server\Store\GivenNames;
use Velvet\Server\Store\ShelfNames;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Cards\CardIdentity;
use Velvet\Server\Work\Sheets\Shelves;

#[AsCommand('velvet:plan', 'Tells what an intake would do. Writes nothing.')]
final class PlanCommand extends Command
{
    public function __construct(
        private readonly Capture $capture,
        private readonly FiledBefore $filedBefore,
        private readonly Styles $styles,
        private readonly FiledCounters $counters,
        private readonly CameraNames $cameraNames,
        private readonly Shelves $shelves,
        private readonly ShelfNames $taken,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        PlanOptions::declare($this);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $options = PlanOptions::from($input, $this->styles, $say);
        try {
            $listing = CardWalk::of($options->path);
        } catch (CardUnreadable $e) {
            return $say->refusal($e->getMessage(), $options->json);
        }
        $readings = [];
        $warnings = array_map(
            static fn (CardProblem $problem): array => [
                'code' => $problem->code,
                'text' => $problem->text,
                'paths' => [$problem->path],
            ],
            $listing->problems,
        );
        $frames = $listing->frames($options->path);
        $reader = new CardReader($this->capture, $options->path);
        foreach ($frames->frames as $frame) {
            $readings[] = $reading = $reader->read($frame);
            foreach ($reading->problems as $problem) {
                $warnings[] = [
                    'code' => $problem->code,
                    'text' => $problem->text,
                    'paths' => [$frame->leading()->path],
                ];
            }
        }
        $timed = [];
        foreach ($readings as $id => $reading) {
            $timed[] = new TimedFrame(
                $id,
                $reading->facts->time?->at,
                $reading->camera(),
                $reading->frame->leading()->path,
            );
        }
        $loose = $frames->loose($options->path);
        if (null !== $loose) {
            $timed = [...$timed, ...TimedFrame::behind([new TimedFrame(\count($readings), null, '', '')], $timed)];
            $readings[] = $reader->read($loose);
        }
        $groups = $options->style->division->divide($timed);
        $names = $this->cameraNames->all();
        $label = CardIdentity::of($options->path)->label;
        $entries = [];
        foreach ($groups as $i => $group) {
            $entries[] = new EntryToFile(
                $i + 1,
                $group->day,
                $options->name,
                array_map(
                    fn (TimedFrame $frame): FrameToFile => $this->toFile(
                        $frame->id,
                        $readings[$frame->id],
                        $options->path,
                        $label,
                        $names,
                    ),
                    $group->frames,
                ),
            );
        }
        $plan = IntakePlan::of($entries, $this->names($options), $options->style, $this->counters);
        if ($options->json) {
            $say->json([
                'entries' => array_map(
                    static fn (PlannedEntry $planned): array => EntryJson::planned(
                        $planned,
                        array_map(
                            static fn (PlannedFrame $frame): ?string => $readings[$frame->frame->id]
                                ->facts->time?->at->text(),
                            $planned->frames,
                        ),
                    ),
                    $plan->entries,
                ),
                'warnings' => $warnings,
                'bytes' => $plan->bytes(),
            ]);
        } else {
            foreach ($plan->entries as $planned) {
                $copied = \count(
                    array_filter($planned->frames, static fn (PlannedFrame $frame): bool => [] !== $frame->to),
                );
                $say->line(
                    \sprintf(
                        '%d  %s: %d frames to copy, %d not',
                        $planned->entry->number,
                        $planned->folder,
                        $copied,
                        \count($planned->frames) - $copied,
                    ),
                );
            }
            foreach ($warnings as $warning) {
                $say->line('   '.$warning['text']);
            }
            $say->line(\sprintf('%s to copy to each place.', Size::inWords($plan->bytes())));
        }

        return [] === array_filter(
            $listing->problems,
            static fn (CardProblem $problem): bool => $problem->leavesFramesBehind,
        )
            ? Command::SUCCESS
            : Command::FAILURE;
    }

    private function names(PlanOptions $options): GivenNames
    {
        $shelf = null === $options->shelf ? null : $this->shelves->known($options->shelf);

        return $this->taken->given(
            array_values(
                array_unique(
                    array_filter([$options->shelf, $options->twin, ...$shelf?->roots() ?? []], is_string(...)),
                ),
            ),
            $shelf,
            null,
        );
    }

    /** @param array<string, string> $names of cameras */
    private function toFile(
        int $id,
        FrameReading $reading,
        string $root,
        string $label,
        array $names,
    ): FrameToFile {
        $naming = FrameNaming::of(
            $reading->facts->time?->at,
            $reading->frame->leading(),
            $names[$reading->camera()] ?? '',
            $reading->facts->camera,
            $label,
        );
        if (!$reading->isReadable()) {
            return new FrameToFile(
                $id,
                $reading->frame->files,
                $naming,
                FrameState::Unreadable,
                exposed: $reading->exposed(),
            );
        }
        $copies = $this->filedBefore->files($reading->fingerprintsByPath($root));
        $whole = array_map(
            static fn (?FiledCopy $copy): ?string => true === $copy?->needsRepair() ? null : $copy?->path,
            $copies,
        );
        $repairs = array_map(
            static fn (?FiledCopy $copy): ?string => true === $copy?->needsRepair() ? $copy->path : null,
            $copies,
        );

        return new FrameToFile(
            $id, $reading->frame->files, $naming, \in_array(null, $whole, true) ? FrameState::New : FrameState::Filed,
            $whole,
            array_map(static fn (?Fingerprint $print): ?string => $print?->hex, $reading->fingerprints), $repairs,
            $reading->exposed(),
        );
    }
}
