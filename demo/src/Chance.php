<?php

declare(strict_types=1);

namespace Velvet\Demo;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Chance that falls the same way for the same seed. */
final readonly class Chance
{
    private Randomizer $randomizer;

    public function __construct(string $seed)
    {
        $this->randomizer = new Randomizer(new Xoshiro256StarStar(hash('sha256', $seed, true)));
    }

    public function between(float $least, float $most): float
    {
        return $least + ($most - $least) * $this->randomizer->getInt(0, 1_000_000) / 1_000_000;
    }

    public function whole(int $least, int $most): int
    {
        return $this->randomizer->getInt($least, $most);
    }

    public function happens(float $probability): bool
    {
        return $this->between(0, 1) < $probability;
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $choices
     *
     * @return T
     */
    public function one(array $choices): mixed
    {
        return $choices[$this->whole(0, \count($choices) - 1)];
    }
}
