<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Shoot\Day;
use Velvet\Server\Store\FrameSearch;

/** Options by which a command searches filed frames. */
final class SearchOptions
{
    private const VERDICTS = ['kept' => Verdict::Kept, 'struck' => Verdict::Struck, 'open' => Verdict::Open];

    public static function declare(Command $command): void
    {
        foreach (array_keys(self::VERDICTS) as $verdict) {
            $command->addOption($verdict, null, InputOption::VALUE_NONE, "search: frames that are $verdict");
        }
        foreach ([
            'stars' => 'with so many stars, or more', 'tab' => 'with this tab', 'camera' => 'of this make or model',
            'from' => 'since this day, YYYY-MM-DD', 'to' => 'to this day, YYYY-MM-DD',
        ] as $option => $what) {
            $command->addOption($option, null, InputOption::VALUE_REQUIRED, 'search: frames '.$what);
        }
    }

    /**
     * @param non-empty-list<int>|null $shoots in which it is searched; null: all
     * @param \Closure(string): Tab    $tab    by its name
     */
    public static function read(InputInterface $input, ?array $shoots, \Closure $tab): FrameSearch
    {
        $text = static function (string $option) use ($input): ?string {
            $value = $input->getOption($option);

            return \is_string($value) ? $value : null;
        };
        $day = static function (string $option) use ($text): ?Day {
            $said = $text($option);
            try {
                return null === $said ? null : Day::fromText($said);
            } catch (\ValueError) {
                throw new InvalidOptionException(\sprintf('--%s takes a day, as 2026-05-02.', $option));
            }
        };
        $verdicts = array_values(array_filter(
            self::VERDICTS,
            static fn (string $option): bool => true === $input->getOption($option),
            \ARRAY_FILTER_USE_KEY,
        ));
        $stars = $text('stars');
        if (\count($verdicts) > 1 || (null !== $stars && 1 !== preg_match('/^[0-5]$/', $stars))) {
            throw new InvalidOptionException('Say one of --kept, --struck and --open, and stars from 0 to 5.');
        }
        $name = $text('tab');

        return new FrameSearch(
            $shoots,
            $verdicts[0] ?? null,
            null === $stars ? null : (int) $stars,
            null === $name ? null : $tab($name)->id,
            $text('camera'),
            $day('from'),
            $day('to'),
        );
    }
}
