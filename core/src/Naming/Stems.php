<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/**
 * Hands out the stems of an intake. The one rule for collisions: no two frames share a stem in one folder, whatever the
 * letter case and the extension, nor does a frame share one with what lies there already. Where the pattern has a
 * counter, taken numbers are passed over; where it has none, `-2`, `-3` and so on are put behind.
 */
final class Stems
{
    /** @var array<string, array<string, true>> folded stems that are taken, by folded folder */
    private array $taken = [];

    /** @var array<string, array<string, int>> the last number put behind a stem, by folded folder and folded stem */
    private array $suffix = [];

    /** @var array<string, int> the last number given, by scope and key */
    private array $last = [];

    /**
     * @param \Closure(string): list<string> $namesIn the names that lie in a folder, all its subfolders' that a frame
     *                                                may use among them
     */
    public function __construct(
        private readonly \Closure $namesIn,
        private readonly CountersSoFar $counters,
    ) {
    }

    /** @return array{string, int|null, bool} the stem, its number, and whether it was taken at first */
    public function next(string $folder, ShootNaming $shoot, NamesInShoot $names, FrameNaming $frame): array
    {
        $key = PortableName::folded($folder);
        $this->taken[$key] ??= self::stemsOf(($this->namesIn)($folder));
        $counter = $names->pattern->counter();
        if (null === $counter) {
            $stem = $names->stem($frame, null);
            $stem = '' === $stem ? 'unnamed' : $stem;
            $first = $folded = PortableName::folded($stem);
            $n = $this->suffix[$key][$first] ?? 1;
            while (isset($this->taken[$key][$folded])) {
                $folded = $first.'-'.++$n;
            }
            $this->suffix[$key][$first] = $n;
            $this->taken[$key][$folded] = true;

            return [$stem.substr($folded, \strlen($first)), null, $folded !== $first];
        }
        // pictures and movies with patterns of their own count by themselves
        $count = spl_object_id($names->pattern).' '.$this->countOf($counter, $key, $shoot);
        $number = $this->last[$count] ?? max(
            $counter->start - $counter->step,
            $this->before($counter, $key, $shoot, $names),
        );
        $tries = 0;
        do {
            $number += $counter->step;
            $stem = $names->stem($frame, $number);
            $folded = PortableName::folded($stem);
            ++$tries;
        } while (isset($this->taken[$key][$folded]));
        $this->last[$count] = $number;
        $this->taken[$key][$folded] = true;

        return [$stem, $number, $tries > 1];
    }

    private function countOf(Piece $counter, string $folder, ShootNaming $shoot): string
    {
        return $counter->scope->value.' '.match ($counter->scope) {
            CounterScope::Shoot => $folder,
            CounterScope::Day => $shoot->day?->text() ?? '',
            CounterScope::Year => $shoot->day?->year() ?? '',
            CounterScope::Intake => '',
        };
    }

    /** The highest number that was given before this intake: in the shoot's own folder, or to the day or year. */
    private function before(Piece $counter, string $folder, ShootNaming $shoot, NamesInShoot $names): int
    {
        $last = \PHP_INT_MIN;
        if (CounterScope::Day === $counter->scope || CounterScope::Year === $counter->scope) {
            $last = $this->counters->last(
                $counter->scope,
                (CounterScope::Day === $counter->scope ? $shoot->day?->text() : $shoot->day?->year()) ?? '',
            ) ?? $last;
        }
        $expression = CounterScope::Shoot === $counter->scope ? $names->numberIn() : null;
        foreach ($this->taken[$folder] as $stem => $_) {
            if (null !== $expression && 1 === preg_match($expression, (string) $stem, $match)) {
                $last = max($last, (int) $match[1]);
            }
        }

        return $last;
    }

    /**
     * @param list<string> $names
     *
     * @return array<string, true>
     */
    private static function stemsOf(array $names): array
    {
        $stems = [];
        foreach ($names as $name) {
            $folded = PortableName::folded($name);
            $stems[$folded] = true;
            // a stem may have dots of its own: whatever stands before any dot is taken
            for ($dot = strpos($folded, '.', 1); false !== $dot; $dot = strpos($folded, '.', $dot + 1)) {
                $stems[substr($folded, 0, $dot)] = true;
            }
        }

        return $stems;
    }
}
