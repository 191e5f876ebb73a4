<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/**
 * A filed file that lacks a whole copy gets it again from its card. A copy that holds what was written into it since is
 * no damaged one: the others get that from it when they are there again. What became a DNG of which no whole copy is
 * left is the raw file again, and is converted anew.
 */
final readonly class Repair
{
    /**
     * @param list<string> $roots      absolute; where it is written to. None where all that can be reached is whole.
     * @param string       $path       relative to them
     * @param bool         $isRawAgain whether a raw file takes the place of its damaged DNG
     * @param bool         $everywhere whether in all of its places
     */
    private function __construct(
        public array $roots,
        public string $path,
        public bool $isRawAgain,
        private bool $everywhere,
    ) {
    }

    /**
     * @param list<string> $roots     of its shelf and twin
     * @param list<string> $connected those whose drives are: what cannot be reached is not repaired
     */
    public static function of(FiledFile $file, array $roots, array $connected): self
    {
        $now = $file->changed()?->digest;
        // what is as it was received is compared when it takes its name
        $damaged = null === $now ? $connected : array_values(array_filter(
            $connected,
            static fn (string $root): bool => !$now->isOfFile($root.'/'.$file->path()),
        ));
        $isRawAgain = null !== $file->rawPath() && [] !== $damaged && $damaged === $connected;

        return new self(
            $damaged,
            $isRawAgain ? $file->rawPath() : $file->path(),
            $isRawAgain,
            \count($damaged) === \count($roots),
        );
    }

    /** Whether a place must be connected first: a whole DNG may lie there, which no other one may take the place of. */
    public function mustWait(): bool
    {
        return $this->isRawAgain && !$this->everywhere;
    }

    /**
     * What was received is verified in these places again.
     *
     * @param int $modifiedAt Unix seconds; of the file on the card
     */
    public function done(FiledFile $file, int $modifiedAt, \DateTimeImmutable $at): void
    {
        match (true) {
            $this->isRawAgain => $file->rawReceivedAgain($modifiedAt, $at),
            $this->everywhere || null === $file->changed() => $file->repaired($modifiedAt, $at),
            default => $file->repairedInPart($at),
        };
    }
}
