<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Velvet\Core\Filed\Witness;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\Intake;

/** The cards of a sheet that bear witness to one another: those that one camera wrote at the same time. */
final readonly class Witnesses
{
    public function __construct(private CardContents $contents)
    {
    }

    /**
     * @return list<array{first: string, second: string, same: list<string>, other_kinds: list<string>,
     *     only_first: list<string>, only_second: list<string>, differs: list<string>}>
     */
    public function of(Intake $intake): array
    {
        $cards = array_values($intake->cards->toArray());
        usort($cards, static fn (Card $a, Card $b): int => strnatcmp($a->label, $b->label));
        $frames = array_map($this->frames(...), $cards);
        $pairs = [];
        foreach ($cards as $i => $first) {
            for ($j = $i + 1; $j < \count($cards); ++$j) {
                $witness = Witness::of($frames[$i], $frames[$j]);
                if ($witness->isOfTheSameExposures()) {
                    $pairs[] = [
                        'first' => $first->label,
                        'second' => $cards[$j]->label,
                        'same' => $witness->same,
                        'other_kinds' => $witness->otherKinds,
                        'only_first' => $witness->onlyFirst,
                        'only_second' => $witness->onlySecond,
                        'differs' => $witness->differs,
                    ];
                }
            }
        }

        return $pairs;
    }

    /**
     * @return array<string, non-empty-array<string, string|null>> fingerprints by extension, by the frame's path
     *     without one
     */
    private function frames(Card $card): array
    {
        $frames = [];
        foreach ($this->contents->ofFrames($card) as $files) {
            $name = null;
            foreach ($files as ['path' => $path, 'kind' => $kind, 'fingerprint' => $fingerprint]) {
                if (!$kind->isStill()) {
                    continue; // a voice note lies on the first card only
                }
                $name ??= (string) preg_replace('/\.[^.\/]*$/', '', $path);
                $frames[$name][strtolower(pathinfo($path, \PATHINFO_EXTENSION))] = $fingerprint;
            }
        }

        return $frames;
    }
}
