<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

/** What a style is meant for: when a card comes in that fits, this style is offered first. */
final readonly class Ties
{
    /**
     * @param list<string> $cameras models, or models with serial numbers
     * @param list<string> $cards   labels
     * @param list<string> $shelves names
     */
    public function __construct(public array $cameras = [], public array $cards = [], public array $shelves = [])
    {
    }

    /** @param list<string> $cameras as frames name them: make, model and serial number */
    public function fit(string $card, array $cameras): bool
    {
        if (\in_array(mb_strtolower($card), array_map(mb_strtolower(...), $this->cards), true)) {
            return true;
        }
        foreach ($this->cameras as $tied) {
            foreach ($cameras as $camera) {
                if (str_contains(mb_strtolower($camera), mb_strtolower($tied))) {
                    return true;
                }
            }
        }

        return false;
    }
}
