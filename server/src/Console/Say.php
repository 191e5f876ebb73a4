<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Results go to standard output, everything else to standard error. */
final readonly class Say
{
    private const JSON = \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE;

    public function __construct(private OutputInterface $output)
    {
    }

    public function line(string $text): void
    {
        $this->output->writeln(self::visible($text), OutputInterface::OUTPUT_RAW);
    }

    public function note(string $text): void
    {
        ($this->output instanceof ConsoleOutputInterface ? $this->output->getErrorOutput() : $this->output)->writeln(
            self::visible($text),
            OutputInterface::OUTPUT_RAW,
        );
    }

    /** Names come from cards: control characters, which a terminal would obey, are shown by their code (ECMA-48). */
    private static function visible(string $text): string
    {
        return preg_replace_callback(
            '/[\x00-\x08\x0B-\x1F\x7F]|\xC2[\x80-\x9F]/',
            static fn (array $found): string => '\\x'.strtoupper(bin2hex($found[0])),
            $text,
        ) ?? '';
    }

    /**
     * Why nothing was done, in a sentence; whoever asked for JSON finds it there, too.
     *
     * @return int the exit status
     */
    public function refusal(string $sentence, bool $json = false): int
    {
        $this->note($sentence);
        if ($json) {
            $this->json(['refused' => $sentence]);
        }

        return Command::FAILURE;
    }

    public function json(mixed $document): void
    {
        $this->line(json_encode($document, self::JSON | \JSON_PRETTY_PRINT));
    }

    /**
     * One JSON object of which one member is a list that is written while it comes, an item a line.
     *
     * @param non-empty-array<string, mixed> $before
     * @param iterable<mixed>                $items
     * @param non-empty-array<string, mixed> $after
     */
    public function jsonWithList(array $before, string $name, iterable $items, array $after): void
    {
        $this->output->write(
            substr(json_encode($before, self::JSON), 0, -1).',"'.$name.'":[',
            false,
            OutputInterface::OUTPUT_RAW,
        );
        $comma = "\n";
        foreach ($items as $item) {
            $this->output->write($comma.json_encode($item, self::JSON), false, OutputInterface::OUTPUT_RAW);
            $comma = ",\n";
        }
        $this->line("\n],".substr(json_encode($after, self::JSON), 1));
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
