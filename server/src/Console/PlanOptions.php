<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\NotATimeOfDay;
use Velvet\Server\Style\HouseStyle;

/** The options that `plan` and `intake` share. */
final readonly class PlanOptions
{
    private function __construct(public string $path, public ?string $shelf, public ?string $twin, public string $name, public Division $division, public bool $json)
    {
    }

    public static function declare(Command $command): void
    {
        $command->addArgument('path', InputArgument::REQUIRED, 'the folder at which the card is mounted')
            ->addOption('shelf', null, InputOption::VALUE_REQUIRED, 'the root folder to file under')
            ->addOption('twin', null, InputOption::VALUE_REQUIRED, 'the root folder of the second copy')
            ->addOption('name', null, InputOption::VALUE_REQUIRED, 'the name of the shoot', '')
            ->addOption('style', null, InputOption::VALUE_REQUIRED, 'the house style', HouseStyle::NAME)
            ->addOption('day-starts', null, InputOption::VALUE_REQUIRED, 'when a day begins, as in 04:00')
            ->addOption('break-after', null, InputOption::VALUE_REQUIRED, 'minutes of pause that divide shoots, or never')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    public static function from(InputInterface $input, HouseStyle $style, Say $say): self
    {
        $named = self::text($input, 'style');
        if (null !== $named && 0 !== strcasecmp($named, HouseStyle::NAME)) {
            throw new InvalidOptionException(\sprintf('There is no house style “%s”. The one there is now is called %s.', $named, HouseStyle::NAME));
        }
        $standard = $style->division();
        try {
            $starts = self::text($input, 'day-starts');
            $boundary = null === $starts ? $standard->boundary : DayBoundary::at($starts);
        } catch (NotATimeOfDay $e) {
            throw new InvalidOptionException($e->getMessage());
        }
        $pause = self::text($input, 'break-after');
        if (null !== $pause && 'never' !== $pause && (1 !== preg_match('/^\d{1,6}$/', $pause) || (int) $pause < 1)) {
            throw new InvalidOptionException(\sprintf('“%s” is no number of minutes. Write minutes, as in 240, or never.', $pause));
        }
        $minutes = null === $pause ? $standard->breakAfterMinutes : ('never' === $pause ? null : max(1, (int) $pause));
        $shelf = self::text($input, 'shelf');
        $twin = self::text($input, 'twin');

        return new self(
            $say->absolute($input->getArgument('path')),
            null === $shelf ? null : $say->absolute($shelf),
            null === $twin ? null : $say->absolute($twin),
            self::text($input, 'name') ?? '',
            new Division($boundary, $minutes),
            true === $input->getOption('json'),
        );
    }

    private static function text(InputInterface $input, string $option): ?string
    {
        $value = $input->getOption($option);

        return \is_string($value) && '' !== trim($value) ? trim($value) : null;
    }
}
