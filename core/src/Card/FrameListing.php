<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * The frames among a card's files: files of one stem within one folder belong together, in any letter case
 * (DCF 2.0, "DCF object": files with the same directory and file number are one object). Movies and sound that belong
 * to no picture are frames of their own.
 */
final readonly class FrameListing
{
    /**
     * @param list<Frame>    $frames in the order of their paths: pictures, then movies, then sound
     * @param list<CardFile> $others files that belong to no frame
     */
    private function __construct(public array $frames, public array $others)
    {
    }

    /** @param list<CardFile> $files */
    public static function of(array $files): self
    {
        /** @var array<string, non-empty-list<CardFile>> $groups */
        $groups = [];
        foreach ($files as $file) {
            if (!$file->kind->isStill()) {
                continue;
            }
            $key = self::key($file);
            // two stills of one extension are two pictures, though their names differ in letter case only
            for ($n = 2; self::holds($groups[$key] ?? [], $file); ++$n) {
                $key = self::key($file)."\0".$n;
            }
            $groups[$key][] = $file;
        }
        $others = [];
        foreach ([FileKind::Movie, FileKind::Audio] as $kind) {
            foreach ($files as $file) {
                if ($kind === $file->kind) {
                    $groups[self::companionKey($file, $groups) ?? MovieParts::key($file)][] = $file;
                }
            }
        }
        foreach ($files as $file) {
            if (!$file->kind->isLoose()) {
                continue;
            }
            $key = self::companionKey($file, $groups);
            if (null === $key) {
                $others[] = $file;
            } else {
                $groups[$key][] = $file;
            }
        }

        return new self(array_values(array_map(self::frame(...), $groups)), $others);
    }

    /**
     * Files of no frame that are no housekeeping either, taken together as if they were one: they are copied, too.
     * Null where there are none, and on a card without frames: it belongs to no shoot.
     *
     * @param string $root absolute: the card's
     */
    public function loose(string $root): ?Frame
    {
        $loose = array_values(array_filter(
            $this->others,
            static fn (CardFile $file): bool => null === Housekeeping::rule($file, $root),
        ));

        return [] === $loose || [] === $this->frames ? null : self::frame($loose);
    }

    /** @param non-empty-list<CardFile> $group */
    private static function frame(array $group): Frame
    {
        usort($group, static fn (CardFile $a, CardFile $b): int => self::rank($a) <=> self::rank($b));

        return new Frame($group);
    }

    /** @return array{int, bool, string} */
    private static function rank(CardFile $file): array
    {
        return [$file->kind->rank(), MovieParts::isSmaller($file), $file->path];
    }

    /** @param list<CardFile> $group */
    private static function holds(array $group, CardFile $file): bool
    {
        foreach ($group as $other) {
            if (strtolower($other->extension()) === strtolower($file->extension())) {
                return true;
            }
        }

        return false;
    }

    /**
     * A companion is called either `name.wav` or, as some programs write sidecars, `name.ext.xmp`.
     *
     * @param array<string, non-empty-list<CardFile>> $groups
     */
    private static function companionKey(CardFile $file, array $groups): ?string
    {
        $key = self::key($file);
        if (isset($groups[$key])) {
            return self::holds($groups[$key], $file) ? null : $key;
        }
        if (isset($groups[MovieParts::key($file)])) {
            return MovieParts::key($file);
        }
        $inner = FileKind::ofName($file->stem());
        if ($inner->isStill() || $inner->isMovieOrSound()) {
            $key = MovieParts::of($file->folder(), substr($file->stem(), 0, (int) strrpos($file->stem(), '.')));

            return isset($groups[$key]) ? $key : null;
        }

        return null;
    }

    private static function key(CardFile $file): string
    {
        return MovieParts::of($file->folder(), $file->stem());
    }
}
