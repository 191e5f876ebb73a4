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
use Velvet\Core\Dng\Conversion;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Transfer\TransferFailure;
use Velvet\Server\Words;

#[AsCommand('velvet:dng', 'Converts raw files to DNG; each counts only when every sample came back from the drive.')]
final class DngCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'raw files')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'the folder that the DNGs go to')
            ->addOption('embed', null, InputOption::VALUE_NONE, 'put the raw file itself into the DNG, too')
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
        $done = [];
        $failed = 0;
        foreach (\is_array($files) ? $files : [] as $given) {
            $from = $say->absolute($given);
            $target = $folder.'/'.pathinfo($from, \PATHINFO_FILENAME).'.dng';
            $say->note('converting '.$from);
            try {
                $conversion = Conversion::of($from, $target, true === $input->getOption('embed'));
                $done[] = ['from' => $from, 'to' => $target, 'bytes_before' => $conversion->bytesBefore, 'bytes_after' => $conversion->bytesAfter, 'samples_verified' => true];
            } catch (DngRefused|TransferFailure $e) {
                ++$failed;
                $say->note(\sprintf('%s was not converted and stays as it is: %s.', $from, rtrim($e->getMessage(), '.')));
                $done[] = ['from' => $from, 'to' => null, 'bytes_before' => (int) @filesize($from), 'bytes_after' => null, 'samples_verified' => false];
            }
        }
        if (true === $input->getOption('json')) {
            $say->json(['files' => $done]);
        } else {
            $converted = array_filter($done, static fn (array $file): bool => $file['samples_verified']);
            $say->line(\sprintf('%d of %d files converted, every sample verified: %s → %s.', \count($converted), \count($done), Words::bytes((int) array_sum(array_column($converted, 'bytes_before'))), Words::bytes((int) array_sum(array_column($converted, 'bytes_after')))));
        }

        return 0 === $failed ? Command::SUCCESS : Command::FAILURE;
    }
}
