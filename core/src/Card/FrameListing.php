<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * The frames among a card's files: files of one stem within one folder belong together, in any letter case
 * (DCF 2.0, "DCF object": files with the same directory and file number are one object).
 */
final readonly class FrameListing
{
    /**
     * @param list<Frame>    $frames in the order of their paths
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
            $key = self::key($file->folder(), $file->stem());
            // two stills of one extension are two pictures, though their names differ in letter case only
            for ($n = 2; self::holds($groups[$key] ?? [], $file); ++$n) {
                $key = self::key($file->folder(), $file->stem())."\0".$n;
            }
            $groups[$key][] = $file;
        }
        $others = [];
        foreach ($files as $file) {
            if ($file->kind->isStill()) {
                continue;
            }
            $key = $file->kind->isCompanion() ? self::companionKey($file, $groups) : null;
            if (null === $key) {
                $others[] = $file;
            } else {
                $groups[$key][] = $file;
            }
        }
        $frames = [];
        foreach ($groups as $group) {
            usort(
                $group,
                static fn (CardFile $a, CardFile $b): int => [$a->kind->rank(), $a->path]
                    <=> [$b->kind->rank(), $b->path],
            );
            $frames[] = new Frame($group);
        }

        return new self($frames, $others);
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
        $key = self::key($file->folder(), $file->stem());
        if (isset($groups[$key])) {
            return self::holds($groups[$key], $file) ? null : $key;
        }
        if (FileKind::ofName($file->stem())->isStill()) {
            $key = self::key($file->folder(), substr($file->stem(), 0, (int) strrpos($file->stem(), '.')));

            return isset($groups[$key]) ? $key : null;
        }

        return null;
    }

    private static function key(string $folder, string $stem): string
    {
        return $folder."\0".mb_strtolower($stem, 'UTF-8');
    }
}
