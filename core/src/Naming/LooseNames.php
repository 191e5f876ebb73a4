<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/**
 * Files of no frame keep the names and folders that they have on their card: other files may speak of them by these.
 */
final class LooseNames
{
    private const UNNAMED = '_';

    /** @var array<string, array<string, true>> names in folders, both folded: MISC and Misc are one on many drives */
    private array $taken = [];
    /** @var array<string, true> folders that were looked into, as they are written */
    private array $seen = [];

    /** @param \Closure(string): list<string> $namesIn what lies in a folder already */
    public function __construct(private readonly \Closure $namesIn)
    {
    }

    /**
     * @param string $folder relative to the shelf
     * @param string $card   the card's label; empty where it has none
     * @param string $path   on the card
     *
     * @return string relative to the shelf; with `-2` before its extension where the name is taken
     */
    public function next(string $folder, string $card, string $path): string
    {
        $steps = array_map(self::step(...), array_filter([$card, ...explode('/', $path)], static fn (
            string $step,
        ): bool => '' !== $step));
        $name = array_pop($steps) ?? self::UNNAMED;
        $folder = implode('/', [$folder, ...$steps]);
        $taken = &$this->taken[PortableName::folded($folder)];
        if (!isset($this->seen[$folder])) {
            $this->seen[$folder] = true;
            $found = array_map(PortableName::folded(...), ($this->namesIn)($folder));
            $taken = array_fill_keys($found, true) + ($taken ?? []);
        }
        [$stem, $extension] = [pathinfo($name, \PATHINFO_FILENAME), pathinfo($name, \PATHINFO_EXTENSION)];
        $free = $name;
        for ($n = 2; isset($taken[PortableName::folded($free)]); ++$n) {
            $free = $stem.'-'.$n.('' === $extension ? '' : '.'.$extension);
        }
        $taken[PortableName::folded($free)] = true;

        return $folder.'/'.$free;
    }

    /** A hidden folder or file is one no more: what is filed is to be seen. */
    private static function step(string $name): string
    {
        $readable = PortableName::readable($name);

        return '' === $readable ? self::UNNAMED : $readable;
    }
}
