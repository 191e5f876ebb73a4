<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

use Velvet\Core\Bytes\RunningDigests;

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

    /**
     * XXH128 of all names, sizes and times, hexadecimal: equal as long as nothing on the card is added, changed, moved
     * or removed.
     */
    public function seal(): string
    {
        $digests = new RunningDigests();
        foreach ($this->files as $file) {
            $digests->update($file->path."\0".$file->stamp."\n");
        }
        foreach ($this->problems as $problem) {
            $digests->update($problem->code."\0".$problem->path."\n");
        }

        return $digests->finished()->content->hex;
    }

    public function frames(): FrameListing
    {
        return FrameListing::of($this->files);
    }
}
