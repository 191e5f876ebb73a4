<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** Something worth knowing about an entry, written beside it. */
final readonly class MarginNote
{
    /**
     * @param list<int>   $positions the frames it concerns, counted from 0 in the entry
     * @param list<int>   $missed    of these, those behind which a time-lapse lacks a frame, each once
     * @param string|null $offers    the one thing to do with them: leave_out, split (an entry begins at the first),
     *                               set_aside (into a folder of their own) or bring_back
     */
    private function __construct(
        public string $code,
        public string $title,
        public string $text,
        public array $positions,
        public bool $asksForAttention,
        public ?string $offers = null,
        public array $missed = [],
    ) {
    }

    /** @param list<int> $positions */
    public static function alreadyFiled(array $positions): self
    {
        return new self(
            'filed',
            \sprintf('%s already filed', self::count($positions)),
            'Equal to the last byte; they stay out.',
            $positions,
            false,
        );
    }

    /** @param list<int> $positions */
    public static function onTheSheetTwice(array $positions, string $firstName): self
    {
        return new self(
            'twice',
            \sprintf('%s here twice', self::count($positions)),
            \sprintf(
                '%s: copied once; the other is read to its end and compared.',
                self::andOthers($firstName, $positions),
            ),
            $positions,
            false,
        );
    }

    /** @param list<int> $positions */
    public static function otherSlot(array $positions, string $firstName): self
    {
        return new self(
            'other_slot',
            \sprintf('%s in two slots', self::count($positions)),
            \sprintf(
                '%s: raw on one card, the other picture on another; filed as one frame, under one name.',
                self::andOthers($firstName, $positions),
            ),
            $positions,
            false,
        );
    }

    /** @param list<int> $positions */
    public static function repairs(array $positions, string $firstName): self
    {
        return new self(
            'repairs',
            1 === \count($positions)
                ? '1 repairs its filed copy'
                : \sprintf('%s repair their filed copies', self::count($positions)),
            \sprintf(
                '%s: filed before, but a copy is missing or damaged now.',
                self::andOthers($firstName, $positions),
            ),
            $positions,
            true,
        );
    }

    /** @param list<int> $positions */
    public static function noCaptureDate(array $positions, string $firstName): self
    {
        return new self(
            'no_capture_time',
            1 === \count($positions)
                ? 'No capture date'
                : \sprintf('%s without a capture date', self::count($positions)),
            \sprintf('%s: the file’s own time stands in and may be wrong.', self::andOthers($firstName, $positions)),
            $positions,
            true,
        );
    }

    /** @param list<int> $positions */
    public static function clockWrong(array $positions, string $firstName): self
    {
        return new self(
            'clock_wrong',
            'The camera’s clock looks wrong',
            \sprintf(
                '%s: a day long past, or still to come. Correct the clock above.',
                self::andOthers($firstName, $positions),
            ),
            $positions,
            true,
        );
    }

    /** @param list<int> $positions */
    public static function damaged(array $positions, string $firstName): self
    {
        return new self(
            'damaged',
            1 === \count($positions) ? '1 looks damaged' : \sprintf('%s look damaged', self::count($positions)),
            \sprintf(
                '%s: copied as %s, so nothing is lost.',
                self::andOthers($firstName, $positions),
                1 === \count($positions) ? 'it is' : 'they are',
            ),
            $positions,
            true,
        );
    }

    /** @param list<int> $positions */
    public static function unreadable(array $positions, string $firstName): self
    {
        return new self(
            'unreadable',
            1 === \count($positions) ? '1 cannot be read' : \sprintf('%s cannot be read', self::count($positions)),
            \sprintf('%s: untouched on the card, and not copied.', self::andOthers($firstName, $positions)),
            $positions,
            true,
        );
    }

    /** @param list<int> $positions */
    public static function looksBlack(array $positions, string $firstName): self
    {
        return new self(
            'looks_black',
            1 === \count($positions) ? '1 looks black' : \sprintf('%s look black', self::count($positions)),
            \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)),
            $positions,
            true,
            'leave_out',
        );
    }

    /** @param list<int> $positions */
    public static function looksBlownOut(array $positions, string $firstName): self
    {
        return new self(
            'looks_blown_out',
            1 === \count($positions) ? '1 looks blown out' : \sprintf('%s look blown out', self::count($positions)),
            \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)),
            $positions,
            true,
            'leave_out',
        );
    }

    /** @param list<int> $positions */
    public static function looksBlurred(array $positions, string $firstName): self
    {
        return new self(
            'looks_blurred',
            1 === \count($positions) ? '1 looks blurred' : \sprintf('%s look blurred', self::count($positions)),
            \sprintf('%s; only a hint.', self::andOthers($firstName, $positions)),
            $positions,
            true,
            'leave_out',
        );
    }

    /** @param list<int> $positions */
    public static function otherContent(array $positions, string $firstName): self
    {
        return new self(
            'other_content',
            1 === \count($positions)
                ? '1 is not what its name says'
                : \sprintf('%s are not what their names say', self::count($positions)),
            \sprintf('%s: copied under the extension it has.', self::andOthers($firstName, $positions)),
            $positions,
            true,
        );
    }

    /** @param list<string> $names of the entry's frames */
    public static function timeLapse(Sequence $run, array $names): self
    {
        $missed = array_count_values(array_map(static fn (int $position): string => $names[$position], $run->missed));
        $text = \sprintf('%s frames from %s.', self::count($run->positions), $names[$run->positions[0]]);
        if ([] !== $missed) {
            $text .= \sprintf(
                ' %d missed, after %s.',
                array_sum($missed),
                implode(
                    ', ',
                    array_map(strval(...), \array_slice(array_keys($missed), 0, 3)),
                ).(\count($missed) > 3 ? ' and others' : ''),
            );
        }

        return new self(
            'time_lapse',
            \sprintf('Time-lapse, every %s', self::seconds($run->interval))
                .([] === $missed ? '' : \sprintf(', %d missed', array_sum($missed))),
            $text,
            $run->positions,
            [] !== $missed,
            missed: array_values(array_unique($run->missed)),
        );
    }

    /**
     * @param list<string> $names of the entry's frames
     *
     * @return self|null null where the one interval reads like the other: there was a break, no change
     */
    public static function intervalChange(Sequence $before, Sequence $after, array $names): ?self
    {
        [$was, $is] = [self::seconds($before->interval), self::seconds($after->interval)];

        return $was === $is ? null : new self(
            'interval_change',
            \sprintf('Interval changes to %s', $is),
            \sprintf('At %s, from %s.', $names[$after->positions[0]], $was),
            [$after->positions[0]],
            true,
            'split',
        );
    }

    /** @param list<int> $positions */
    public static function strays(array $positions, string $firstName, bool $areAside): self
    {
        return new self(
            'strays',
            \sprintf('%s around the time-lapse', self::count($positions)),
            \sprintf(
                $areAside ? '%s: they go into the folder “strays”.' : '%s: before it began, or after it.',
                self::andOthers($firstName, $positions),
            ),
            $positions,
            !$areAside,
            $areAside ? 'bring_back' : 'set_aside',
        );
    }

    /**
     * @param non-empty-list<Sequence> $brackets
     * @param list<string>             $names of the entry's frames
     */
    public static function brackets(array $brackets, array $names): self
    {
        $first = $brackets[0];
        $positions = array_merge(...array_map(static fn (Sequence $bracket): array => $bracket->positions, $brackets));
        $step = \sprintf('%s stops apart', rtrim(rtrim(number_format($first->step, 1), '0'), '.'));

        return new self(
            'bracket',
            1 === \count($brackets)
                ? \sprintf('Bracket of %s', self::count($first->positions))
                : \sprintf('%s brackets', self::count($brackets)),
            \sprintf(
                '%s from %s.',
                ucfirst('1 stops apart' === $step ? 'one stop apart' : $step),
                $names[$first->positions[0]],
            ), $positions, false,
        );
    }

    /**
     * @param non-empty-list<Sequence> $bursts
     * @param list<string>             $names of the entry's frames
     */
    public static function bursts(array $bursts, array $names): self
    {
        $positions = array_merge(...array_map(static fn (Sequence $burst): array => $burst->positions, $bursts));

        return new self(
            'burst',
            1 === \count($bursts)
                ? \sprintf('Burst of %s', self::count($positions))
                : \sprintf('%s bursts', self::count($bursts)),
            \sprintf('From %s.', $names[$bursts[0]->positions[0]]),
            $positions,
            false,
        );
    }

    public static function longPause(int $position, string $name, int $milliseconds): self
    {
        $minutes = intdiv($milliseconds, 60_000);

        return new self(
            'long_pause',
            \sprintf('%d h %02d min without a frame', intdiv($minutes, 60), $minutes % 60),
            \sprintf('Before %s: perhaps another shoot begins there.', $name),
            [$position],
            false,
            'split',
        );
    }

    /** @param list<int> $positions */
    public static function leftover(array $positions, Day $lastIntake): self
    {
        return new self(
            'leftover',
            'Leftover',
            \sprintf('Older than what was taken in last (%s), and not filed.', $lastIntake->text()),
            $positions,
            true,
            'leave_out',
        );
    }

    /** @param list<int> $positions */
    public static function nameTaken(array $positions, string $firstName): self
    {
        return new self(
            'name_taken',
            1 === \count($positions) ? '1 name was taken' : \sprintf('%s names were taken', self::count($positions)),
            \sprintf('%s: numbered on, nothing is overwritten.', self::andOthers($firstName, $positions)),
            $positions,
            false,
        );
    }

    /** 20 s, 2 min, 0.5 s. */
    private static function seconds(int $milliseconds): string
    {
        return 0 === $milliseconds % 60_000 && $milliseconds >= 120_000
            ? \sprintf('%d min', intdiv($milliseconds, 60_000))
            : rtrim(rtrim(number_format($milliseconds / 1000, 1, '.', ''), '0'), '.').' s';
    }

    public static function pastMidnight(DayBoundary $boundary): self
    {
        return new self(
            'past_midnight',
            'Runs past midnight',
            \sprintf('Kept whole: the day starts at %s.', $boundary->text()),
            [],
            false,
        );
    }

    /** @param array<mixed> $of */
    private static function count(array $of): string
    {
        return number_format(\count($of));
    }

    /** @param list<int> $positions */
    private static function andOthers(string $name, array $positions): string
    {
        $others = \count($positions) - 1;

        return 0 === $others ? $name : \sprintf('%s and %s more', $name, number_format($others));
    }
}
