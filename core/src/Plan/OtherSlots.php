<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Naming\PortableName;

/**
 * Exposures that a camera wrote to two cards, the raw file to one slot and the JPEG to the other: the same body gave
 * them the same name at the same moment. They are filed as one frame, under one name.
 */
final class OtherSlots
{
    /** @var array<string, SlotFrame> those whose names are given, by folder and exposure */
    private array $frames = [];

    /** @param array<string, int> $times how many frames were taken at each moment, where there are several */
    private function __construct(private readonly array $times)
    {
    }

    /** @param list<FrameToFile> ...$entries */
    public static function of(array ...$entries): self
    {
        $times = [];
        foreach ($entries as $frames) {
            foreach ($frames as $frame) {
                if (null !== $frame->naming->shotAt) {
                    $times[] = $frame->naming->shotAt->text();
                }
            }
        }

        return new self(array_filter(array_count_values($times), static fn (int $frames): bool => $frames > 1));
    }

    /**
     * The other half of a frame, where its name is given already.
     *
     * @param list<CardFile> $files of it, that are named
     */
    public function half(string $folder, FrameToFile $frame, array $files): ?SlotFrame
    {
        $key = $this->key($folder, $frame);
        $other = null === $key ? null : $this->frames[$key] ?? null;
        if (null === $key || null === $other) {
            return null; // as for most
        }
        $kinds = self::stills($files);
        if ([] === $kinds || [] !== array_intersect($kinds, $other->kinds)) {
            return null;
        }

        return $this->frames[$key] = $other->with($kinds);
    }

    /**
     * @param list<CardFile> $files of the frame, that were named
     * @param int|null       $number in their name
     */
    public function add(string $folder, FrameToFile $frame, array $files, string $stem, ?int $number): void
    {
        $key = $this->key($folder, $frame);
        $kinds = null === $key ? [] : self::stills($files);
        if (null !== $key && [] !== $kinds) {
            $this->frames[$key] ??= new SlotFrame($frame->id, $stem, $number, $kinds);
        }
    }

    /** Null where it is not known when or by what camera the frame was taken, and where no other one was taken then. */
    private function key(string $folder, FrameToFile $frame): ?string
    {
        if ([] === $this->times) {
            return null;
        }
        $naming = $frame->naming;
        $time = $naming->shotAt?->text() ?? '';

        return !isset($this->times[$time]) || '' === $naming->camera ? null : implode("\0", [
            PortableName::folded($folder), PortableName::folded($naming->originalName), $time,
            $naming->maker, $naming->camera, $naming->serial,
        ]);
    }

    /**
     * @param list<CardFile> $files
     *
     * @return list<string> the kinds of pictures among them
     */
    private static function stills(array $files): array
    {
        $kinds = [];
        foreach ($files as $file) {
            if ($file->kind->isStill()) {
                $kinds[] = $file->kind->value;
            }
        }

        return $kinds;
    }
}
