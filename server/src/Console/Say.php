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

    /**
     * A document; what of it is {@see \Traversable} is a list that is written while it comes, an item a line, so that a
     * long one is never in memory as a whole.
     */
    public function json(mixed $document): void
    {
        if (self::hasStream($document)) {
            $this->write($document);
            $this->line('');
        } else {
            $this->line(json_encode($document, self::JSON | \JSON_PRETTY_PRINT));
        }
    }

    /** @phpstan-assert-if-true array<array-key, mixed> $value */
    private static function hasStream(mixed $value): bool
    {
        return \is_array($value)
            && [] !== array_filter($value, static fn (mixed $member): bool => $member instanceof \Traversable);
    }

    private function write(mixed $value): void
    {
        if ($value instanceof \Traversable) {
            $this->raw('[');
            $comma = "\n";
            foreach ($value as $item) {
                $this->raw($comma);
                $this->write($item);
                $comma = ",\n";
            }
            $this->raw("\n]");
        } elseif (self::hasStream($value)) {
            $comma = '{';
            foreach ($value as $name => $member) {
                $this->raw($comma.json_encode((string) $name, self::JSON).': ');
                $this->write($member);
                $comma = ",\n";
            }
            $this->raw('}');
        } else {
            $this->raw(json_encode($value, self::JSON));
        }
    }

    private function raw(string $text): void
    {
        $this->output->write($text, false, OutputInterface::OUTPUT_RAW);
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
