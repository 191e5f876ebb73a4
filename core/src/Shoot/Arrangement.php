<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/**
 * How a sheet's frames lie in its entries, as edited by hand. Every edit gives a new arrangement, in which each frame
 * lies in exactly one entry, no entry is empty, frames are in capture order, and entries in the order of their first
 * frames.
 */
final readonly class Arrangement
{
    /** @param list<ArrangedEntry> $entries */
    private function __construct(public array $entries)
    {
    }

    /**
     * @param list<ArrangedEntry> $entries
     * @param array<int, int>     $order   place of each frame in capture order, by its id
     */
    public static function of(array $entries, array $order): self
    {
        $sorted = [];
        foreach ($entries as $entry) {
            $frames = array_values(array_filter($entry->frames, static fn (int $frame): bool => isset($order[$frame])));
            if ([] !== $frames) {
                $places = array_map(static fn (int $frame): int => $order[$frame], $frames);
                array_multisort($places, $frames);
                $sorted[] = [$places[0], $entry->with($frames)];
            }
        }
        usort($sorted, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return new self(array_column($sorted, 1));
    }

    /**
     * A new arrangement by the rule. Entries of the one before keep what was typed where there is again one of their
     * day, in order.
     *
     * @param list<FrameGroup> $groups
     */
    public static function divided(array $groups, ?self $before = null): self
    {
        $typed = [];
        foreach ($before->entries ?? [] as $entry) {
            $typed[$entry->day?->text() ?? ''][] = $entry;
        }
        $entries = [];
        foreach ($groups as $group) {
            $frames = array_map(static fn (TimedFrame $frame): int => $frame->id, $group->frames);
            $like = isset($typed[$group->day?->text() ?? '']) ? array_shift($typed[$group->day?->text() ?? '']) : null;
            $entries[] = $like?->with($frames) ?? new ArrangedEntry($group->day, new EntryWords(), $frames);
        }

        return new self($entries);
    }

    /**
     * Begins a new entry at a frame.
     *
     * @param array<int, int> $order
     *
     * @throws ArrangementRefused
     */
    public function split(int $frame, array $order): self
    {
        $entries = [];
        $found = false;
        foreach ($this->entries as $entry) {
            $at = array_search($frame, $entry->frames, true);
            if (false === $at) {
                $entries[] = $entry;
                continue;
            }
            if (0 === $at) {
                throw ArrangementRefused::firstFrame();
            }
            $found = true;
            $entries[] = $entry->with(\array_slice($entry->frames, 0, $at));
            $entries[] = new ArrangedEntry(
                $entry->day,
                $entry->words->forAnother(),
                \array_slice($entry->frames, $at),
            );
        }

        return $found ? self::of($entries, $order) : throw ArrangementRefused::noSuchFrame();
    }

    /**
     * Joins an entry with the one before it, whose name it takes; an entry without a name takes that of the other.
     *
     * @param array<int, int> $order
     *
     * @throws ArrangementRefused
     */
    public function join(int $number, array $order): self
    {
        $entry = $this->entries[$number - 1] ?? throw ArrangementRefused::noSuchEntry($number);
        $before = $this->entries[$number - 2] ?? throw ArrangementRefused::nothingBefore();
        $entries = $this->entries;
        $entries[$number - 2] = new ArrangedEntry(
            $before->day ?? $entry->day,
            $before->words->joined($entry->words),
            [...$before->frames, ...$entry->frames],
            $before->shoot,
        );
        unset($entries[$number - 1]);

        return self::of(array_values($entries), $order);
    }

    /**
     * Moves frames to another entry, or to a new one.
     *
     * @param list<int>       $frames
     * @param int|null        $number null: a new entry
     * @param array<int, int> $order
     * @param Day|null        $day    of the new entry
     *
     * @throws ArrangementRefused
     */
    public function move(array $frames, ?int $number, array $order, ?Day $day = null): self
    {
        if ([] === $frames || [] !== array_diff_key(array_flip($frames), $order)) {
            throw ArrangementRefused::noSuchFrame();
        }
        if (null !== $number && !isset($this->entries[$number - 1])) {
            throw ArrangementRefused::noSuchEntry($number);
        }
        $moved = array_flip($frames);
        $entries = [];
        foreach ($this->entries as $i => $entry) {
            $kept = array_values(array_filter($entry->frames, static fn (int $frame): bool => !isset($moved[$frame])));
            $entries[] = $entry->with($i === ($number ?? 0) - 1 ? [...$kept, ...$frames] : $kept);
        }
        if (null === $number) {
            $entries[] = new ArrangedEntry($day, new EntryWords(), $frames);
        }

        return self::of($entries, $order);
    }

    /**
     * Frames that are new on the card go to the entry of their day that is nearest in time, else to entries of their
     * own.
     *
     * @param list<FrameGroup>              $groups the new frames, divided by the rule
     * @param array<int, int>               $order
     * @param array<int, int>               $ticks  of every dated frame, in milliseconds
     */
    public function taking(array $groups, array $order, array $ticks): self
    {
        $entries = $this->entries;
        foreach ($groups as $group) {
            $ids = array_map(static fn (TimedFrame $frame): int => $frame->id, $group->frames);
            $nearest = null;
            $distance = \PHP_INT_MAX;
            foreach ($this->entries as $i => $entry) {
                if (!Day::areSame($entry->day, $group->day)) {
                    continue;
                }
                foreach ($entry->frames as $frame) {
                    $apart = abs(($ticks[$frame] ?? 0) - ($ticks[$ids[0]] ?? 0));
                    if ($apart < $distance) {
                        [$nearest, $distance] = [$i, $apart];
                    }
                }
            }
            if (null === $nearest) {
                $entries[] = new ArrangedEntry($group->day, new EntryWords(), $ids);
            } else {
                $entries[$nearest] = $entries[$nearest]->with([...$entries[$nearest]->frames, ...$ids]);
            }
        }

        return self::of(array_values($entries), $order);
    }

    /** @return array<int, int> number of the entry in which each frame lies, by the frame's id */
    public function numbers(): array
    {
        $numbers = [];
        foreach ($this->entries as $i => $entry) {
            foreach ($entry->frames as $frame) {
                $numbers[$frame] = $i + 1;
            }
        }

        return $numbers;
    }
}
