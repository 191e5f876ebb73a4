<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/**
 * Two cards of one camera, compared frame by frame: the card of the second slot bears witness to what the first one
 * holds. Frames are brought together by their name on the card, which a camera gives to both, and else by an equal
 * file. Unequal fingerprints are proof that two files differ; that equal ones are the same to the last byte is proven
 * by the copy.
 */
final readonly class Witness
{
    /**
     * @param list<string> $same       names of frames that are on both
     * @param list<string> $otherKinds on both, but in no kind in common: raw in one slot, JPEG in the other
     * @param list<string> $onlyFirst
     * @param list<string> $onlySecond
     * @param list<string> $differs    of one name, but with a file that differs or that one of the cards lacks or
     *                                 cannot be read from
     */
    private function __construct(
        public array $same,
        public array $otherKinds,
        public array $onlyFirst,
        public array $onlySecond,
        public array $differs,
    ) {
    }

    /**
     * @param array<string, non-empty-array<string, string|null>> $first  fingerprints of each frame's files by
     *     extension, by the frame's path without one; null for files that cannot be read
     * @param array<string, non-empty-array<string, string|null>> $second
     */
    public static function of(array $first, array $second): self
    {
        $found = ['same' => [], 'other' => [], 'differs' => [], 'first' => []];
        $byPrint = self::byPrint(array_diff_key($second, $first));
        $onlySecond = array_diff_key($second, $first);
        foreach ($first as $path => $files) {
            $match = isset($second[$path]) ? $path : self::match($files, $byPrint);
            $verdict = null === $match ? 'first' : self::verdict($files, $second[$match]);
            $found[$verdict][] = basename($path);
            if (null !== $match) {
                unset($onlySecond[$match]);
            }
        }

        return new self(
            $found['same'],
            $found['other'],
            $found['first'],
            array_map(basename(...), array_keys($onlySecond)),
            $found['differs'],
        );
    }

    /** Whether the two cards saw the same exposures at all. */
    public function isOfTheSameExposures(): bool
    {
        return \count($this->same) + \count($this->otherKinds) >= max(1, \count($this->differs));
    }

    /**
     * @param array<string, string|null> $first
     * @param array<string, string|null> $second
     *
     * @return 'same'|'other'|'differs'
     */
    private static function verdict(array $first, array $second): string
    {
        $common = array_intersect_key($first, $second);
        if ([] === $common) {
            return 'other';
        }
        foreach ($common as $extension => $print) {
            if (null === $print || $print !== $second[$extension]) {
                return 'differs';
            }
        }

        return \count($common) === \count($first) && \count($common) === \count($second) ? 'same' : 'differs';
    }

    /**
     * @param array<string, array<string, string|null>> $frames
     *
     * @return array<string, string> path of the frame by fingerprint
     */
    private static function byPrint(array $frames): array
    {
        $paths = [];
        foreach ($frames as $path => $files) {
            foreach (array_filter($files, is_string(...)) as $print) {
                $paths[$print] = $path;
            }
        }

        return $paths;
    }

    /**
     * @param array<string, string|null> $files
     * @param array<string, string>      $byPrint
     */
    private static function match(array $files, array $byPrint): ?string
    {
        foreach (array_filter($files, is_string(...)) as $print) {
            if (isset($byPrint[$print])) {
                return $byPrint[$print];
            }
        }

        return null;
    }
}
