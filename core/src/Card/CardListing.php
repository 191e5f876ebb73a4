<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/** Everything that lies on a card, in the order of its paths. */
final readonly class CardListing
{
    /**
     * @param list<CardFile>    $files
     * @param list<CardProblem> $problems
     */
    public function __construct(public array $files, public array $problems)
    {
    }

    public function bytes(): int
    {
        return array_sum(array_map(static fn (CardFile $file): int => $file->bytes, $this->files));
    }

    public function frames(): FrameListing
    {
        return FrameListing::of($this->files);
    }
}
