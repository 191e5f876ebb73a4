<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Size;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\EmbeddedOriginal;
use Velvet\Server\Work\Dng\FencedConversion;

#[AsCommand('velvet:dng', 'Converts raw files to DNG; each counts only when every sample came back from the drive.')]
final class DngCommand extends Command
{
    private const POLL = 5000; // microseconds

    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'raw files')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'the folder that the DNGs go to')
            ->addOption('embed', null, InputOption::VALUE_NONE, 'put the raw file itself into the DNG, too')
            ->addOption(
                'take-out',
                null,
                InputOption::VALUE_NONE,
                'the way back: restore the camera file from DNGs that keep it within',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $to = $input->getOption('to');
        if (!\is_string($to) || '' === trim($to)) {
            throw new InvalidOptionException('Say where to: --to DIR.');
        }
        $folder = rtrim($say->absolute($to), '/');
        $files = $input->getArgument('file');
        $waiting = [];
        foreach (\is_array($files) ? $files : [] as $given) {
            $from = $say->absolute($given);
            $waiting[] = [$from, $folder.'/'.pathinfo($from, \PATHINFO_FILENAME).'.dng'];
        }
        if (true === $input->getOption('take-out')) {
            return $this->takeOut(array_column($waiting, 0), $folder, true === $input->getOption('json'), $say);
        }
        $done = $this->all($waiting, true === $input->getOption('embed'), $say);
        $failed = \count(array_filter($done, static fn (array $file): bool => !$file['samples_verified']));
        if (true === $input->getOption('json')) {
            $say->json(['files' => $done]);
        } else {
            $converted = array_filter($done, static fn (array $file): bool => $file['samples_verified']);
            $say->line(
                \sprintf(
                    '%d of %d files converted, every sample verified: %s → %s.',
                    \count($converted),
                    \count($done),
                    Size::inWords(array_sum(array_column($converted, 'bytes_before'))),
                    Size::inWords(array_sum(array_column($converted, 'bytes_after'))),
                ),
            );
        }

        return 0 === $failed ? Command::SUCCESS : Command::FAILURE;
    }

    /** @param list<string> $dngs */
    private function takeOut(array $dngs, string $folder, bool $json, Say $say): int
    {
        $done = [];
        foreach ($dngs as $dng) {
            try {
                $original = EmbeddedOriginal::in($dng);
                $to = $folder.'/'.$original->name;
                $original->place($to, (int) @filemtime($dng));
                $say->note(\sprintf('%s holds what lay in %s', $to, $dng));
                $done[] = [
                    'from' => $dng,
                    'to' => $to,
                    'bytes' => \strlen($original->bytes),
                    'digest' => Digest::ofBytes($original->bytes)->labelled(),
                    'why_not' => null,
                ];
            } catch (DngRefused|FileUnreadable|TransferFailure $e) {
                $why = \sprintf('Nothing was taken out of %s: %s.', $dng, rtrim($e->getMessage(), '.'));
                $say->note($why);
                $done[] = ['from' => $dng, 'to' => null, 'bytes' => null, 'digest' => null, 'why_not' => $why];
            }
        }
        $taken = \count(array_filter($done, static fn (array $file): bool => null !== $file['to']));
        if ($json) {
            $say->json(['files' => $done]);
        } else {
            $say->line(\sprintf('%d of %d raw files taken out, bit for bit.', $taken, \count($done)));
        }

        return $taken === \count($done) ? Command::SUCCESS : Command::FAILURE;
    }

    /**
     * As many side by side as there are cores.
     *
     * @param list<array{string, string}> $waiting
     *
     * @return list<array{from: string, to: string|null, bytes_before: int, bytes_after: int|null,
     *     samples_verified: bool, why_not: string|null}> in the order of the files
     */
    private function all(array $waiting, bool $embeds, Say $say): array
    {
        /** @var array<int, FencedConversion> $running */
        $running = $done = [];
        $next = 0;
        while ($next < \count($waiting) || [] !== $running) {
            while ($next < \count($waiting) && \count($running) < FencedConversion::cores()) {
                $say->note('converting '.$waiting[$next][0]);
                $running[$next] = FencedConversion::ofRaw($this->project);
                $running[$next]->start(
                    ...$waiting[$next],
                    name: basename($waiting[$next][0]),
                    embeds: $embeds,
                    cores: max(1, intdiv(FencedConversion::cores(), \count($waiting))),
                );
                ++$next;
            }
            foreach ($running as $n => $conversion) {
                if ($conversion->runs()) {
                    continue;
                }
                [$from, $to] = $waiting[$n];
                $outcome = $conversion->outcome();
                unset($running[$n]);
                if (\is_string($outcome)) {
                    $why = \sprintf('%s was not converted and stays as it is: %s.', $from, rtrim($outcome, '.'));
                    $say->note($why);
                    $done[$n] = [
                        'from' => $from,
                        'to' => null,
                        'bytes_before' => (int) @filesize($from),
                        'bytes_after' => null,
                        'samples_verified' => false,
                        'why_not' => $why,
                    ];
                } else {
                    $done[$n] = [
                        'from' => $from,
                        'to' => $to,
                        'bytes_before' => $outcome['bytes_before'],
                        'bytes_after' => $outcome['bytes_after'],
                        'samples_verified' => true,
                        'why_not' => null,
                    ];
                }
            }
            usleep(self::POLL);
        }
        ksort($done);

        return array_values($done);
    }
}
