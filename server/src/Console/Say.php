<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Results go to standard output, everything else to standard error. */
final readonly class Say
{
    public function __construct(private OutputInterface $output)
    {
    }

    public function line(string $text): void
    {
        $this->output->writeln($text, OutputInterface::OUTPUT_RAW);
    }

    public function note(string $text): void
    {
        ($this->output instanceof ConsoleOutputInterface ? $this->output->getErrorOutput() : $this->output)->writeln($text, OutputInterface::OUTPUT_RAW);
    }

    public function json(mixed $document): void
    {
        $this->line(json_encode($document, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_PRETTY_PRINT));
    }

    /** A path as typed, made absolute; the script `velvet` says from which folder it was called. */
    public function absolute(mixed $path): string
    {
        if (!\is_string($path) || '' === trim($path)) {
            throw new InvalidArgumentException('A path is missing.');
        }
        $from = getenv('VELVET_CALLED_FROM');
        $path = str_starts_with($path, '/') ? $path : (\is_string($from) && '' !== $from ? $from : getcwd()).'/'.$path;
        $real = realpath($path);

        return false === $real ? rtrim($path, '/') : $real;
    }
}
