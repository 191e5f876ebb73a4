<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Card\CardFile;

/**
 * Which frames of a sheet seem to be there twice: on the cards of both slots, or two times on one card. Fingerprints
 * find them; the copy proves it, or else files nothing of the second one.
 */
final class SeenOnSheet
{
    /**
     * @var array<string, list<array<string, string>>> for each fingerprint the frames that have it: the names of their
     *     files by fingerprint
     */
    private array $frames = [];

    /** @param array<string, int> $times how often each fingerprint is on the sheet */
    private function __construct(private readonly array $times)
    {
    }

    /** @param list<FrameToFile> ...$entries */
    public static function of(array ...$entries): self
    {
        $times = [];
        foreach ($entries as $frames) {
            foreach ($frames as $frame) {
                foreach ($frame->fingerprints as $print) {
                    if (null !== $print) {
                        $times[] = $print;
                    }
                }
            }
        }

        return new self(array_filter(array_count_values($times), static fn (int $times): bool => $times > 1));
    }

    /**
     * @param list<CardFile> $along
     *
     * @return list<string> the names that the files of an equal frame will have, one for each of these; empty where
     *     there is none
     */
    public function equals(FrameToFile $frame, array $along): array
    {
        $prints = $this->prints($frame, $along);
        foreach ([] === $prints ? [] : $this->frames[$prints[0]] ?? [] as $other) {
            $names = array_map(static fn (string $print): ?string => $other[$print] ?? null, $prints);
            if (!\in_array(null, $names, true)) {
                return $names;
            }
        }

        return [];
    }

    /**
     * @param list<CardFile> $along
     * @param list<string>   $to    the names they will have
     */
    public function add(FrameToFile $frame, array $along, array $to): void
    {
        $prints = $this->prints($frame, $along);
        if ([] === $prints) {
            return;
        }
        $names = array_combine($prints, $to);
        foreach (array_keys($names) as $print) {
            $this->frames[$print][] = $names;
        }
    }

    /**
     * @param list<CardFile> $along
     *
     * @return list<string> one for each file; empty where one could not be read, or none of them is on the sheet twice
     */
    private function prints(FrameToFile $frame, array $along): array
    {
        if ([] === $this->times) {
            return []; // as on most sheets
        }
        $prints = [];
        $isTwice = false;
        foreach ($along as $file) {
            $print = $frame->fingerprints[$frame->placeOf($file)] ?? null;
            if (null === $print) {
                return [];
            }
            $isTwice = $isTwice || isset($this->times[$print]);
            $prints[] = $print;
        }

        return $isTwice ? $prints : [];
    }
}
