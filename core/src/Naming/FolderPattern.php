<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** Where a shoot's folder lies on its shelf: a pattern for each level, the shoot's own folder last. */
final readonly class FolderPattern
{
    private const DEEPEST = 6;

    /** @param non-empty-list<NamePattern> $levels */
    private function __construct(public array $levels)
    {
    }

    /**
     * @param list<NamePattern> $levels
     *
     * @throws PatternRefused
     */
    public static function of(array $levels): self
    {
        if ([] === $levels) {
            throw PatternRefused::empty();
        }
        if (\count($levels) > self::DEEPEST) {
            throw PatternRefused::outOfRange('depth of folders', 1, self::DEEPEST);
        }

        return new self($levels);
    }

    /**
     * The path below the shelf, with `/`. A level that would have no name is called `unnamed`; one that says the trip
     * is left out where the shoot belongs to none, but for the shoot's own.
     */
    public function path(ShootNaming $shoot): string
    {
        $path = [];
        foreach ($this->levels as $n => $level) {
            $isOwn = $n === \count($this->levels) - 1;
            if (!$isOwn && '' === trim($shoot->trip) && $level->says(PieceKind::Trip)) {
                continue;
            }
            $name = $level->folder($shoot);
            $path[] = '' === $name ? 'unnamed' : $name;
        }

        return implode('/', $path);
    }

    public function says(PieceKind $kind): bool
    {
        foreach ($this->levels as $level) {
            if ($level->says($kind)) {
                return true;
            }
        }

        return false;
    }
}
