<?php

declare(strict_types=1);

namespace Velvet\Core\Receipt;

/**
 * The answer to "may I format this card?": yes when every frame on it is verified in two places and nothing else on it that
 * the photographer made would be lost.
 */
final readonly class Clearance
{
    /**
     * @param list<string> $missing sentences, one for each thing that stands against it
     * @param int          $leftOut frames left out by hand that nobody has let go of yet
     */
    private function __construct(public bool $cleared, public array $missing, public int $leftOut)
    {
    }

    /**
     * @param int          $once       frames verified in one place only
     * @param int          $nowhere    frames verified nowhere, apart from those left out
     * @param int          $leftOut    frames left out by hand, not filed, and not let go of by an explicit word
     * @param int          $movies movies and sound files that belong to no frame
     * @param list<string> $unread     sentences about folders and files that could not be read
     */
    public static function of(int $frames, int $once, int $nowhere, int $leftOut, int $movies, array $unread): self
    {
        $missing = [];
        if ($nowhere > 0) {
            $missing[] = self::count($nowhere, '%s is on this card and nowhere else.', '%s are on this card and nowhere else.', 'frame', 'frames');
        }
        if ($once > 0) {
            $missing[] = self::count($once, '%s is verified in one place only; a second copy is missing.', '%s are verified in one place only; a second copy is missing.', 'frame', 'frames');
        }
        if ($leftOut > 0) {
            $missing[] = self::count($leftOut, '%s was left out and is on this card only.', '%s were left out and are on this card only.', 'frame', 'frames');
        }
        if ($movies > 0) {
            $missing[] = self::count($movies, '%s lies on this card and was not copied.', '%s lie on this card and were not copied.', 'movie or sound file', 'movies or sound files');
        }
        if (0 === $frames && [] === $missing && [] === $unread) {
            $missing[] = 'There are no frames on this card.';
        }

        return new self([] === $missing && [] === $unread, [...$missing, ...$unread], $leftOut);
    }

    private static function count(int $n, string $one, string $many, string $singular, string $plural): string
    {
        return 1 === $n ? \sprintf($one, '1 '.$singular) : \sprintf($many, $n.' '.$plural);
    }
}
