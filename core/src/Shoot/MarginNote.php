<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Something worth knowing about an entry, written beside it. */
final readonly class MarginNote
{
    /** @param list<int> $positions the frames it concerns, counted from 0 in the entry */
    private function __construct(public string $code, public string $title, public string $text, public array $positions, public bool $asksForAttention, public bool $offersToLeaveOut = false)
    {
    }

    /** @param list<int> $positions */
    public static function alreadyFiled(array $positions): self
    {
        return new self('filed', \sprintf('%d already filed', \count($positions)), 'Equal to the last byte; they stay out.', $positions, false);
    }

    /** @param list<int> $positions */
    public static function noCaptureDate(array $positions, string $firstName): self
    {
        return new self('no_capture_time', 1 === \count($positions) ? 'No capture date' : \sprintf('%d without a capture date', \count($positions)), \sprintf('%s: the file’s own time stands in and may be wrong.', self::andOthers($firstName, $positions)), $positions, true);
    }

    /** @param list<int> $positions */
    public static function damaged(array $positions, string $firstName): self
    {
        return new self('damaged', 1 === \count($positions) ? '1 looks damaged' : \sprintf('%d look damaged', \count($positions)), \sprintf('%s: copied as %s, so nothing is lost.', self::andOthers($firstName, $positions), 1 === \count($positions) ? 'it is' : 'they are'), $positions, true);
    }

    /** @param list<int> $positions */
    public static function unreadable(array $positions, string $firstName): self
    {
        return new self('unreadable', 1 === \count($positions) ? '1 cannot be read' : \sprintf('%d cannot be read', \count($positions)), \sprintf('%s: untouched on the card, and not copied.', self::andOthers($firstName, $positions)), $positions, true);
    }

    /** @param list<int> $positions */
    public static function looksBlack(array $positions, string $firstName): self
    {
        return new self('looks_black', 1 === \count($positions) ? '1 looks black' : \sprintf('%d look black', \count($positions)), \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)), $positions, true, true);
    }

    /** @param list<int> $positions */
    public static function looksBlownOut(array $positions, string $firstName): self
    {
        return new self('looks_blown_out', 1 === \count($positions) ? '1 looks blown out' : \sprintf('%d look blown out', \count($positions)), \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)), $positions, true, true);
    }

    /** @param list<int> $positions */
    public static function looksBlurred(array $positions, string $firstName): self
    {
        return new self('looks_blurred', 1 === \count($positions) ? '1 looks blurred' : \sprintf('%d look blurred', \count($positions)), \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)), $positions, true, true);
    }

    /** @param list<int> $positions */
    public static function otherContent(array $positions, string $firstName): self
    {
        return new self('other_content', 1 === \count($positions) ? '1 is not what its name says' : \sprintf('%d are not what their names say', \count($positions)), \sprintf('%s: copied under the extension it has.', self::andOthers($firstName, $positions)), $positions, true);
    }

    public static function pastMidnight(DayBoundary $boundary): self
    {
        return new self('past_midnight', 'Runs past midnight', \sprintf('Kept whole: the day starts at %s.', $boundary->text()), [], false);
    }

    /** @param list<int> $positions */
    private static function andOthers(string $name, array $positions): string
    {
        $others = \count($positions) - 1;

        return 0 === $others ? $name : \sprintf('%s and %d more', $name, $others);
    }
}
